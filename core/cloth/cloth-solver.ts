import { checkLength } from '../math/index.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import { applyAir } from './constraints/air.ts';
import { solveBend, updateRestCurvature } from './constraints/bend.ts';
import { solveBodies } from './constraints/bodies.ts';
import { holdWithinReach } from './constraints/reach.ts';
import { solveStretch } from './constraints/stretch.ts';
import { type FabricSettings, STANDARD_GRAVITY } from './fabric.ts';

/** What moves the cloth during one frame, besides itself. */
export interface FrameForces {
  /** Velocity of the air, m/s, world space. */
  wind: readonly [number, number, number];
  /** World-space bodies at the end of the frame, rows as in `packBodies`. */
  bodies: Float32Array;
}

/** Seconds spent since the last `takeTimes`, by what spent them. */
export interface SolverTimes {
  constraints: number;
  bodies: number;
}

/**
 * The readable solver: extended position-based dynamics with small substeps, in natural order, one pass over
 * the constraints per substep. Exact in meaning, tested against closed forms; a faster one must match it.
 *
 * Every substep: predict with gravity, air and damping; bend; stretch; bodies with friction; reach (last, so that
 * it always holds); velocities from the change of place. Targets and bodies move evenly from the previous frame
 * to this one. Same input, same bytes out.
 *
 * References: M. Macklin, M. Müller, N. Chentanez, *XPBD: position-based simulation of compliant constrained
 * dynamics*, MIG 2016. M. Macklin et al., *Small steps in physics simulation*, SCA 2019.
 */
export class ClothSolver {
  readonly garment: CompiledGarment;
  /** [n, 4]: xyz in metres, world space; w = inverse mass (1/kg), 0 for held points. */
  readonly positions: Float32Array;
  /** [n, 4] m/s. */
  readonly velocities: Float32Array;
  /** Max distance of each point, m. Change through `setMaxDistances`. [n] */
  readonly maxDistances: Float32Array;
  /** Frames whose result was not finite and was replaced by the skinned shape. */
  recoveredFrames = 0;

  readonly #previous: Float32Array;
  readonly #predicted: Float32Array;
  readonly #restCurvature: Float32Array;
  readonly #targets: Float32Array;
  readonly #nextTargets: Float32Array;
  #bodies = new Float32Array(0);
  #fabric: FabricSettings;
  readonly #times: SolverTimes = { constraints: 0, bodies: 0 };
  readonly #clock: () => number;

  /**
   * @param clock - Milliseconds that only ever rise, to measure what the parts of a step cost. Without one
   * nothing is measured.
   */
  constructor(garment: CompiledGarment, fabric: FabricSettings, clock: () => number = () => 0) {
    this.garment = garment;
    this.positions = garment.restPositions.slice();
    this.velocities = new Float32Array(4 * garment.pointCount);
    this.maxDistances = new Float32Array(garment.pointCount);
    this.#previous = garment.restPositions.slice();
    this.#predicted = garment.restPositions.slice();
    this.#restCurvature = new Float32Array(3 * garment.bendRest.length);
    this.#targets = garment.restPositions.slice();
    this.#nextTargets = garment.restPositions.slice();
    this.#fabric = { ...fabric };
    this.#clock = clock;
    this.#updateMasses();
  }

  get fabric(): Readonly<FabricSettings> {
    return this.#fabric;
  }

  /** New settings from the next step on. */
  setFabric(fabric: FabricSettings): void {
    this.#fabric = { ...fabric };
    this.#updateMasses();
  }

  /** @param values - Metres, [n]. Negative and non-finite values count as 0 (held). Works while running. */
  setMaxDistances(values: Float32Array): void {
    checkLength('max distances', values, this.garment.pointCount);
    for (let i = 0; i < values.length; i++) this.maxDistances[i] = values[i]! > 0 ? values[i]! : 0;
    this.#updateMasses();
  }

  /** Puts every point on its skinned place, at rest. @param targets - [n, 4]. */
  reset(targets: Float32Array, bodies: Float32Array): void {
    this.#targets.set(targets);
    this.#nextTargets.set(targets);
    this.#bodies = bodies.slice();
    this.velocities.fill(0);
    for (let i = 0; i < this.garment.pointCount; i++) {
      for (let k = 0; k < 3; k++) this.positions[4 * i + k] = targets[4 * i + k]!;
    }
  }

  /**
   * Follows a jump of the character (a seek, a loop that does not close, another clip): every point keeps its
   * offset from its skinned place and its velocity, so that the cloth does not snap.
   */
  jump(targets: Float32Array, bodies: Float32Array): void {
    for (let i = 0; i < targets.length; i += 4) {
      for (let k = 0; k < 3; k++) {
        this.positions[i + k] = this.positions[i + k]! + targets[i + k]! - this.#targets[i + k]!;
      }
    }
    this.#targets.set(targets);
    this.#nextTargets.set(targets);
    this.#bodies = bodies.slice();
  }

  /**
   * Advances by one frame.
   *
   * @param seconds - Length of the frame, s.
   * @param targets - Skinned places at its end, [n, 4].
   */
  step(seconds: number, targets: Float32Array, forces: FrameForces): void {
    checkLength('targets', targets, 4 * this.garment.pointCount);
    if (this.#bodies.length !== forces.bodies.length) this.#bodies = forces.bodies.slice();
    this.#nextTargets.set(targets);
    const { substeps } = this.#fabric;
    const h = seconds / substeps;
    let start = this.#clock();
    applyAir(this.garment, this.positions, this.velocities, forces.wind, this.#fabric.airDrag, seconds);
    updateRestCurvature(this.garment, this.positions, this.#restCurvature);
    for (let substep = 1; substep <= substeps; substep++) {
      this.#predict(h, substep / substeps);
      solveBend(this.garment, this.#restCurvature, this.positions, this.#fabric.bendStiffness, h);
      solveStretch(this.garment, this.positions, this.#fabric.stretchStiffness, h);
      const solved = this.#clock();
      solveBodies(this.positions, this.#previous, {
        from: this.#bodies,
        to: forces.bodies,
        start: (substep - 1) / substeps,
        end: substep / substeps,
        thickness: this.#fabric.thickness,
        friction: this.#fabric.friction,
      });
      const cleared = this.#clock();
      holdWithinReach(
        this.positions,
        this.maxDistances,
        this.#targets,
        this.#nextTargets,
        substep / substeps,
      );
      this.#updateVelocities(h);
      const end = this.#clock();
      this.#times.constraints += solved - start + (end - cleared);
      this.#times.bodies += cleared - solved;
      start = end;
    }
    this.#targets.set(targets);
    this.#bodies.set(forces.bodies);
    this.#recoverIfBroken();
  }

  /** Milliseconds since the last call, then starts anew. */
  takeTimes(): SolverTimes {
    const taken = { ...this.#times };
    this.#times.constraints = this.#times.bodies = 0;
    return taken;
  }

  #predict(h: number, share: number): void {
    const x = this.positions;
    const v = this.velocities;
    const gravity = -STANDARD_GRAVITY * this.#fabric.gravityScale * h;
    const keep = Math.exp(-this.#fabric.damping * h);
    this.#previous.set(x);
    const from = this.#targets;
    const to = this.#nextTargets;
    for (let i = 0; i < x.length; i += 4) {
      if (x[i + 3] === 0) {
        x[i] = from[i]! + share * (to[i]! - from[i]!);
        x[i + 1] = from[i + 1]! + share * (to[i + 1]! - from[i + 1]!);
        x[i + 2] = from[i + 2]! + share * (to[i + 2]! - from[i + 2]!);
        continue;
      }
      v[i] = v[i]! * keep;
      v[i + 1] = (v[i + 1]! + gravity) * keep;
      v[i + 2] = v[i + 2]! * keep;
      x[i] = x[i]! + h * v[i]!;
      x[i + 1] = x[i + 1]! + h * v[i + 1]!;
      x[i + 2] = x[i + 2]! + h * v[i + 2]!;
    }
    this.#predicted.set(x);
  }

  /**
   * Adds what the constraints moved since the prediction. The same as (x - previous) / h in exact numbers, but
   * the rounding of places (float32, a few metres from the origin) does not leak into the velocity.
   */
  #updateVelocities(h: number): void {
    const x = this.positions;
    const v = this.velocities;
    const predicted = this.#predicted;
    const previous = this.#previous;
    const rate = 1 / h;
    for (let i = 0; i < x.length; i += 4) {
      if (x[i + 3] === 0) {
        v[i] = (x[i]! - previous[i]!) * rate;
        v[i + 1] = (x[i + 1]! - previous[i + 1]!) * rate;
        v[i + 2] = (x[i + 2]! - previous[i + 2]!) * rate;
      } else {
        v[i] = v[i]! + (x[i]! - predicted[i]!) * rate;
        v[i + 1] = v[i + 1]! + (x[i + 1]! - predicted[i + 1]!) * rate;
        v[i + 2] = v[i + 2]! + (x[i + 2]! - predicted[i + 2]!) * rate;
      }
    }
  }

  /** Points without area have no mass to simulate: they follow the skin. */
  #updateMasses(): void {
    const { pointAreas, pointCount } = this.garment;
    for (let i = 0; i < pointCount; i++) {
      const mass = this.#fabric.density * pointAreas[i]!;
      this.positions[4 * i + 3] = this.maxDistances[i]! > 0 && mass > 0 ? 1 / mass : 0;
    }
  }

  #recoverIfBroken(): void {
    for (let i = 0; i < this.positions.length; i++) {
      if (Number.isFinite(this.positions[i]!) && Number.isFinite(this.velocities[i]!)) continue;
      this.recoveredFrames++;
      this.velocities.fill(0);
      this.positions.set(this.#targets);
      this.#updateMasses();
      return;
    }
  }
}
