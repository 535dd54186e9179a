import type { PosedCollision } from '../bodies/index.ts';
import { assert, checkLength, sine } from '../math/index.ts';
import { BEND_FILTERS } from './bend-filter.ts';
import { carryFrames, carryState, type RigidMotion, rotateRow } from './carry-state.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import { type BendFactors, deriveBend, derivePairs, deriveVelocityRetention } from './derive-factors.ts';
import { STANDARD_GRAVITY } from './fabric.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import type { FrameNumbers } from './frame-numbers.ts';
import { SELF_BY_FACES } from './kernel/assembly/constants.ts';
import type { StretchLooks } from './limit-stretch.ts';
import { bindLining, carryLining, type LiningBinding, shareLiningAreas } from './lining.ts';
import { setPosedCollision } from './set-posed-collision.ts';
import {
  type Arena,
  allocateState,
  MOST_PULLED,
  NO_TETHER,
  type SolverState,
  type SurfaceTopology,
} from './solver-state.ts';
import type { SolverTimes } from './solver-times.ts';
import { createCounts, type SolverCounts, type SolverWork } from './solver-work.ts';
import { computeTethers } from './tethers.ts';
import { STILL_AIR, type Wind } from './wind.ts';

/** What moves the cloth during one frame, besides itself. */
export interface FrameForces {
  wind: Wind;
  /** World-space bodies at the end of the frame. */
  bodies: PosedCollision;
  /** Places of the other surfaces at the end of the frame, [points, 4] each, in the order of the constructor. */
  surfaces?: readonly Float32Array[];
}

/** What another thread computes frames of a solver with. */
export interface SharedKernel {
  memory: WebAssembly.Memory;
  /** What parts of a frame take is measured. */
  isTimed: boolean;
}

/** Factors of the fabric's settings point by point; null: 1 everywhere. [welded vertices] each. */
export interface PointScales {
  /** Of stretch, shear and bend stiffness. */
  stiffness: Float32Array | null;
  /** Of both dampings. */
  damping: Float32Array | null;
  /** Of drag and lift. */
  drag: Float32Array | null;
}

/** The air is looked at about as often as this, s: once in a frame at 60 frames a second. */
const AIR_SECONDS = 1 / 60;
/** A surface that stands for a body is met however thin the cloth is, m. */
const LEAST_DISTANCE = 1e-6;

const SCALE_KEYS = ['stiffness', 'damping', 'drag'] as const satisfies readonly (keyof PointScales)[];

/** Points pulled by hand. */
export interface Pull {
  /** Points and where each is drawn to, world space; how strongly, 0 to 1 a substep. */
  points: readonly { point: number; position: readonly [number, number, number]; strength: number }[];
}

export interface SolverOptions {
  /** Milliseconds that only ever rise, to measure what the parts of a step cost. Without it nothing is measured. */
  clock?: () => number;
  /** Other threads may compute its frames, see `FrameHelpers`. */
  isShared?: boolean;
  /** Surfaces that the garment keeps off: garments beneath it, then reduced body meshes. */
  surfaces?: readonly SurfaceTopology[];
}

/**
 * Cloth by extended position-based dynamics with small substeps. This class keeps the state and turns settings into
 * factors; how a frame is computed is the business of its subclasses, which must agree.
 *
 * Every frame: air; thread damping; folds; candidates for contact; predicted places. Every substep: bending; stretch;
 * self-collision; other surfaces; the pulling hand; tethers; bodies with friction; inward limit; max distance (last,
 * so that it always holds); velocities from the change of place. Targets and bodies move evenly from the previous
 * frame to this one. Same input, same bytes out.
 *
 * References: M. Macklin, M. Müller, N. Chentanez, *XPBD: position-based simulation of compliant constrained
 * dynamics*, MIG 2016. M. Macklin et al., *Small steps in physics simulation*, SCA 2019.
 */
export abstract class ClothSolver {
  readonly garment: CompiledGarment;
  readonly state: SolverState;
  /** Frames whose result was not finite and was replaced by the last good one. */
  recoveredFrames = 0;

  #fabric: FabricSettings;
  readonly #authored: { maxDistances: Float32Array; isLining: Uint8Array };
  readonly #scales: { [key in keyof PointScales]: Float32Array };
  #hasInward = false;
  #lining: LiningBinding;
  /** Area that each point carries, its share of the lining included, m². */
  #areas: Float32Array;
  #isStale = true;
  #counts: SolverCounts = createCounts();
  #frameSeconds = 0;
  /** The frame that is under way. */
  #frame: FrameNumbers | null = null;
  #heldCount = 0;
  readonly #largestFace: number;
  #frameIndex = 0;
  #pulled: Pull['points'] = [];
  #bodies: PosedCollision | null = null;
  #bend: BendFactors = { filter: BEND_FILTERS[0]!, held: 1 };
  #heldStretch = 1;
  #heldPoints = new Uint8Array(0);
  #tetherRest: Float32Array = new Float32Array(0);

  protected constructor(
    garment: CompiledGarment,
    fabric: FabricSettings,
    surfaces: readonly SurfaceTopology[],
    arena: Arena,
  ) {
    this.garment = garment;
    const { pointCount } = garment;
    this.state = allocateState(garment, surfaces, arena);
    this.#fabric = { ...fabric };
    this.#authored = { maxDistances: new Float32Array(pointCount), isLining: new Uint8Array(pointCount) };
    const ones = (): Float32Array => new Float32Array(pointCount).fill(1);
    this.#scales = { stiffness: ones(), damping: ones(), drag: ones() };
    this.#lining = bindLining(garment, this.#authored.isLining);
    this.#areas = garment.pointAreas.slice();
    for (const rows of [
      this.state.positions,
      this.state.targets,
      this.state.nextTargets,
      this.state.goodPositions,
    ]) {
      rows.set(garment.restPositions);
    }
    this.#largestFace = measureLargestFace(garment);
    this.#updateAeroScale();
    this.#updateMasses();
  }

  /** [rows, 4]: xyz in metres, world space; the garment's points come first. */
  get positions(): Float32Array {
    return this.state.positions;
  }

  /** [rows, 4] m/s. */
  get velocities(): Float32Array {
    return this.state.velocities;
  }

  /** Share of the fabric's bend stiffness that mesh and substeps can hold, 0 to 1; known after the first step. */
  get heldBend(): number {
    return this.#bend.held;
  }

  /** Share of the fabric's stretch stiffness that is felt with mesh and substeps, 0 to 1; known after the first step. */
  get heldStretch(): number {
    return this.#heldStretch;
  }

  get fabric(): Readonly<FabricSettings> {
    return this.#fabric;
  }

  /** New settings from the next step on. */
  setFabric(fabric: FabricSettings): void {
    this.#fabric = { ...fabric };
    this.#isStale = true;
    this.#updateMasses();
  }

  /** Keeps cloth off a surface that stands for a body by more than its thickness. @param margin - m. */
  setSurfaceMargin(surface: number, margin: number): void {
    this.state.surfaces[surface]!.margin = margin;
  }

  /**
   * @param values - Metres, [welded vertices]. Negative and non-finite values count as 0 (held).
   * Works while running.
   */
  setMaxDistances(values: Float32Array): void {
    const { pointCount, weldedOfPoint } = this.garment;
    checkLength('max distances', values, pointCount);
    const { maxDistances } = this.#authored;
    const { inverseMasses, reach } = this.state;
    let isHoldChanged = false;
    for (let i = 0; i < pointCount; i++) {
      const value = values[weldedOfPoint[i]!]!;
      const wanted = value > 0 ? Math.min(value, NO_TETHER) : 0;
      if (wanted > 0 !== maxDistances[i]! > 0) isHoldChanged = true;
      maxDistances[i] = wanted;
      if (inverseMasses[i]! > 0) reach[i] = wanted;
    }
    // Masses and tethers hang on what is held, not on how far the rest may go: a dab seldom changes that.
    if (isHoldChanged) this.#updateMasses();
  }

  /**
   * How deep points may sink below their skinned place, and the radius of the sphere that stands for the body behind.
   * @param depths - Metres, [welded vertices]; negative or not finite: no limit. Null: none anywhere.
   * @param roundness - Metres, [n].
   */
  setInwardLimits(depths: Float32Array | null, roundness: Float32Array | null): void {
    const { pointCount, weldedOfPoint } = this.garment;
    if (depths) checkLength('inward depths', depths, pointCount);
    if (roundness) checkLength('limit roundness', roundness, pointCount);
    const { inward, inwardDepths } = this.state;
    this.#hasInward = false;
    for (let i = 0; i < pointCount; i++) {
      const from = weldedOfPoint[i]!;
      const depth = depths?.[from] ?? -1;
      const radius = roundness?.[from] ?? 1;
      const isLimited = depth >= 0 && radius > 0 && Number.isFinite(depth) && Number.isFinite(radius);
      inwardDepths[i] = isLimited ? depth : -1;
      inward[4 * i + 3] = isLimited ? radius : -1;
      this.#hasInward ||= isLimited;
    }
  }

  /** Factors of the fabric's settings, point by point. Negative and non-finite ones count as 0. Works while running. */
  setScales(scales: PointScales): void {
    const { pointCount, weldedOfPoint } = this.garment;
    for (const key of SCALE_KEYS) {
      const values = scales[key];
      if (values) checkLength(`${key} scales`, values, pointCount);
      for (let i = 0; i < pointCount; i++) {
        const value = values ? values[weldedOfPoint[i]!]! : 1;
        this.#scales[key][i] = value > 0 && Number.isFinite(value) ? value : 0;
      }
    }
    this.#updateAeroScale();
    this.#isStale = true;
  }

  /** @param isLining - Non-zero for points that ride on the outer shell, [welded vertices]. */
  setLining(isLining: ArrayLike<number> | null): void {
    const { pointCount, weldedOfPoint, pointAreas } = this.garment;
    if (isLining) checkLength('lining', isLining, pointCount);
    const flags = this.#authored.isLining;
    for (let i = 0; i < pointCount; i++) flags[i] = isLining && isLining[weldedOfPoint[i]!]! > 0 ? 1 : 0;
    this.#lining = bindLining(this.garment, flags);
    if (this.#lining.points.length === 0) flags.fill(0);
    this.#isStale = true;
    this.#updateAeroScale();
    this.#areas = shareLiningAreas(this.#lining, pointAreas);
    this.#updateMasses();
  }

  /** Draws points by hand until told otherwise; null lets go. */
  setPull(pull: Pull | null): void {
    this.#pulled = (pull?.points ?? []).slice(0, MOST_PULLED);
  }

  /** Puts every point on its skinned place, at rest, with the folds as modelled. @param targets - [n, 4]. */
  reset(targets: Float32Array, forces: Pick<FrameForces, 'bodies' | 'surfaces'>): void {
    const { state } = this;
    setRows(state.targets, targets);
    setRows(state.nextTargets, targets);
    setRows(state.positions, targets);
    state.velocities.fill(0);
    state.goodVelocities.fill(0);
    setRows(state.goodPositions, targets);
    state.hingeCurvatures.set(this.garment.bend.hinges.rest);
    state.pairRest.set(this.garment.stretchRest);
    this.#setBodies(forces, true);
  }

  /**
   * Puts every point on a place, with a velocity, after a reset; the folds stay as modelled.
   * @param positions, velocities - [n, 4].
   */
  place(positions: Float32Array, velocities: Float32Array): void {
    const { state } = this;
    for (const rows of [state.positions, state.goodPositions]) setRows(rows, positions);
    for (const rows of [state.velocities, state.goodVelocities]) setRows(rows, velocities);
  }

  /**
   * Follows a jump of the character (a seek, a loop that does not close, another clip): every point keeps its
   * offset from its skinned place and its velocity, turned with the character, so that the cloth does not snap.
   *
   * @param turn - 3×3 by columns: how the character's root turned. Default: not at all.
   */
  jump(
    targets: Float32Array,
    forces: Pick<FrameForces, 'bodies' | 'surfaces'>,
    turn: readonly number[] = NO_TURN,
  ): void {
    const { state } = this;
    for (let i = 0; i < 4 * this.garment.pointCount; i += 4) {
      for (const rows of [state.positions, state.goodPositions]) {
        const dx = rows[i]! - state.targets[i]!;
        const dy = rows[i + 1]! - state.targets[i + 1]!;
        const dz = rows[i + 2]! - state.targets[i + 2]!;
        for (let k = 0; k < 3; k++) {
          rows[i + k] = targets[i + k]! + turn[k]! * dx + turn[3 + k]! * dy + turn[6 + k]! * dz;
        }
      }
      rotateRow(state.velocities, i, turn);
    }
    setRows(state.targets, targets);
    setRows(state.nextTargets, targets);
    this.#setBodies(forces, true);
  }

  /**
   * Carries everything, the cloth and all that it meets as it was at the end of the last frame, by a rigid motion
   * x → turn · x + displacement: the cloth feels nothing of it.
   */
  carry(motion: RigidMotion): void {
    carryState(this.state, motion);
    if (this.#bodies) this.#bodies.frames = carryFrames(this.#bodies.frames, motion);
  }

  /**
   * Advances by one frame: `begin`, `compute`, `finish` and `settle`.
   *
   * @param seconds - Length of the frame, s.
   * @param targets - Skinned places at its end, [n, 4]. Places that are not finite keep the previous frame's.
   */
  step(seconds: number, targets: Float32Array, forces: FrameForces): void {
    this.begin(seconds, targets, forces);
    this.compute();
    this.finish();
    this.settle(forces.surfaces ?? []);
  }

  /** Takes in all that a frame is computed from, see `step`. Of surfaces those that are met are to stand at its end, others may still move. */
  begin(seconds: number, targets: Float32Array, forces: FrameForces): void {
    const { state } = this;
    assert(targets.length >= 4 * this.garment.pointCount, 'there is a target for every point');
    if (this.#isStale || seconds !== this.#frameSeconds) this.#derive(seconds);
    const frame = this.#createFrame(seconds, forces);
    this.#frame = frame;
    this.#takeTargets(targets);
    for (const surface of state.surfaces)
      surface.distance = surface.isBody
        ? Math.max(LEAST_DISTANCE, frame.thickness + surface.margin)
        : frame.layerMargin;
    this.#setBodies(forces, false);
    this.#count(frame);
    this.prepare(frame);
  }

  /** Computes the frame that was begun. */
  compute(): void {
    assert(this.#frame, 'a frame was begun');
    this.advance(this.#frame);
  }

  /** Brings what was computed into its final form. */
  finish(): void {
    assert(this.#frame, 'a frame was begun');
    const { state } = this;
    this.conclude(this.#frame);
    this.#frame = null;
    carryLining(this.#lining, state.positions, state.velocities);
    this.#recoverIfBroken();
    state.targets.set(state.nextTargets);
  }

  /** Notes where surfaces that were not met came to, for a frame that meets them. @param surfaces - See `FrameForces`. */
  settle(surfaces: readonly Float32Array[]): void {
    this.state.surfaces.forEach((surface, s) => {
      if (surface.distance === 0) setRows(surface.to, surfaces[s]!);
    });
  }

  /** Whether its frames need the garments beneath as they stand at the end of them. */
  get meetsLayers(): boolean {
    return this.#fabric.layerMargin > 0;
  }

  /** What other threads need to compute its frames; null: they cannot. */
  get shared(): SharedKernel | null {
    return null;
  }

  /** Milliseconds since the last call, then starts anew. */
  abstract takeTimes(): SolverTimes;

  /** What was done since the last call, then starts anew; the bodies are those of the last frame. */
  takeWork(): SolverWork {
    const { capsuleCount } = this;
    const hullCount = this.#bodies?.sizes.length ?? 0;
    const bodies = Array.from({ length: capsuleCount + hullCount }, () => ({
      tested: 0,
      touched: 0,
      faces: 0,
    }));
    const work = { counts: this.#counts, bodies };
    this.#counts = createCounts();
    this.takeOwnWork(work);
    return work;
  }

  /** Spheres and capsules of the last frame. */
  protected get capsuleCount(): number {
    return (this.#bodies?.capsules.length ?? 0) / 8;
  }

  /** Adds what depends on where things are, and starts anew; `PlainSolver` does not know it. */
  protected abstract takeOwnWork(work: SolverWork): void;

  protected countLooks({ lists, edges }: StretchLooks): void {
    this.#counts.checkedEdges += lists * this.garment.stretchRest.length;
    this.#counts.shortenedEdges += edges;
  }

  /** Counts what follows from sizes and settings alone. */
  #count(frame: FrameNumbers): void {
    const { garment, state } = this;
    const counts = this.#counts;
    const { substeps, iterations, bendFilter } = frame;
    const slots = garment.stretchRest.length;
    const { rowCount, pointCount } = garment;
    const bodyCount = frame.capsuleCount + frame.hullCount;
    counts.edges += slots * substeps * iterations;
    // Within a frame the air is looked at as often as threads are.
    const looks = Math.ceil(substeps / frame.airEvery);
    if (frame.givesWay) counts.slidingEdges += slots * (substeps + looks);
    if (frame.hasEdgeDamping) counts.dampedEdges += slots;
    if (bendFilter) {
      counts.bendTerms += state.bendColumns.length * bendFilter.steps * substeps;
      counts.bendVertices += pointCount * bendFilter.steps * substeps;
      if (frame.foldMemory > 0 || frame.plasticYieldAngle < 1)
        counts.folds += garment.bend.hinges.rest.length;
    }
    counts.frames++;
    counts.substeps += substeps;
    counts.frameVertices += rowCount;
    counts.vertices += rowCount * substeps;
    if (frame.hasInward) {
      counts.inwardVertices += pointCount * substeps;
      counts.inwardTriangles += garment.triangles.length / 3;
    }
    counts.bodies += bodyCount * substeps;
    counts.bodyBlocks += bodyCount * (rowCount / 16) * substeps;
    for (const { distance, isBody } of state.surfaces)
      if (distance > 0) counts[isBody ? 'meshPasses' : 'layerPasses'] += pointCount * substeps;
  }

  /** Makes the numbers of a frame known to what computes it. */
  protected prepare(_frame: FrameNumbers): void {}

  /** Computes one frame on `state`. */
  protected abstract advance(frame: FrameNumbers): void;

  /** Brings back edges that the frame left too long, see `limitStretch`. */
  protected abstract conclude(frame: FrameNumbers): void;

  #createFrame(seconds: number, { wind, bodies }: FrameForces): FrameNumbers {
    const fabric = this.#fabric;
    const substeps = countSubsteps(fabric, seconds);
    const h = seconds / substeps;
    const air = areFinite(wind.mean) && areFinite(wind.waves) ? wind : STILL_AIR;
    const { pulledRows, pulledPositions } = this.state;
    this.#pulled.forEach(({ point, position, strength }, k) => {
      pulledRows[k] = point;
      pulledPositions.set([...position, strength], 4 * k);
    });
    return {
      index: this.#frameIndex++,
      seconds,
      h,
      substeps,
      iterations: fabric.iterations,
      airEvery: Math.max(1, Math.round(AIR_SECONDS / h)),
      density: fabric.density,
      gravity: -STANDARD_GRAVITY * fabric.gravityScale,
      bendFilter: fabric.bendStiffness > 0 ? this.#bend.filter : null,
      givesWay: fabric.compressionRange > 0,
      hasEdgeDamping: fabric.edgeDamping > 0,
      foldMemory: fabric.foldMemory,
      plasticYieldAngle: fabric.plasticYieldAngle >= Math.PI ? 1 : sine(fabric.plasticYieldAngle / 2),
      hasInward: this.#hasInward,
      thickness: fabric.thickness,
      friction: fabric.friction,
      stretchCap: fabric.stretchCap,
      selfDistance: fabric.selfDistance,
      isSelfByFaces: fabric.selfDistance > 0 && fabric.selfDistance < SELF_BY_FACES * this.garment.spacing,
      layerMargin: fabric.layerMargin,
      airDrag: fabric.airDrag,
      airLift: fabric.airLift,
      wind: air.mean,
      waves: air.waves,
      largestFace: this.#largestFace,
      capsuleCount: bodies.capsules.length / 8,
      hullCount: bodies.sizes.length,
      heldCount: this.#heldCount,
      pulledCount: this.#pulled.length,
    };
  }

  #takeTargets(targets: Float32Array): void {
    const { targets: from, nextTargets: to } = this.state;
    const length = 4 * this.garment.pointCount;
    setRows(to, targets.length === length ? targets : targets.subarray(0, length));
    if (this.areFinite(to)) return;
    for (let i = 0; i < length; i++) if (!Number.isFinite(to[i]!)) to[i] = from[i]!;
    this.recoveredFrames++;
  }

  #setBodies(forces: Pick<FrameForces, 'bodies' | 'surfaces'>, isJump: boolean): void {
    setPosedCollision(this.state, isJump ? null : this.#bodies, forces.bodies);
    this.#bodies = { ...forces.bodies, frames: forces.bodies.frames.slice() };
    this.state.surfaces.forEach((surface, s) => {
      const positions = forces.surfaces?.[s];
      assert(positions, 'every surface has places');
      if (isJump) setRows(surface.from, positions);
      else surface.from.set(surface.to);
      if (isJump || surface.distance > 0) setRows(surface.to, positions);
    });
    if (!isJump) return;
    this.#frameIndex = 0;
    for (const surface of this.state.surfaces) surface.nearPoints.fill(0);
    this.startSurfaces();
  }

  /** Whether all of one of the state's arrays of rows is finite. */
  protected areFinite(rows: Float32Array): boolean {
    return areFinite(rows);
  }

  /** Normals of the surfaces as they stand, for the first frame after a jump. */
  protected abstract startSurfaces(): void;

  /** Points without area have no mass to simulate: they follow the skin. */
  #updateMasses(): void {
    const { pointCount } = this.garment;
    const { inverseMasses, heldRows, reach, tetherAnchors, tetherLengths } = this.state;
    const { maxDistances, isLining } = this.#authored;
    const isHeld = new Uint8Array(pointCount);
    this.#heldCount = 0;
    for (let i = 0; i < pointCount; i++) {
      const mass = this.#fabric.density * this.#areas[i]!;
      const isFree = maxDistances[i]! > 0 && mass > 0 && !isLining[i];
      const inverseMass = Math.fround(isFree ? 1 / mass : 0);
      if (inverseMasses[i] !== inverseMass) this.#isStale = true;
      inverseMasses[i] = inverseMass;
      reach[i] = isFree ? maxDistances[i]! : 0;
      isHeld[i] = isFree || isLining[i] ? 0 : 1;
      if (!isFree) heldRows[this.#heldCount++] = i;
    }
    if (!isSame(isHeld, this.#heldPoints)) {
      this.#heldPoints = isHeld;
      const tethers = computeTethers(this.garment, isHeld);
      tetherAnchors.set(tethers.anchors);
      this.#tetherRest = tethers.lengths;
    }
    for (let i = 0; i < pointCount; i++) {
      const rest = this.#tetherRest[i]!;
      tetherLengths[i] = rest >= NO_TETHER ? NO_TETHER : rest * this.#fabric.stretchCap;
    }
  }

  /** How strongly air acts on each triangle: not on an inner side, elsewhere as its corners' scales say. */
  #updateAeroScale(): void {
    const { triangles } = this.garment;
    const { aeroScale } = this.state;
    const { isLining } = this.#authored;
    const { drag } = this.#scales;
    for (let t = 0; t < aeroScale.length; t++) {
      const a = triangles[3 * t]!;
      const b = triangles[3 * t + 1]!;
      const c = triangles[3 * t + 2]!;
      aeroScale[t] = isLining[a] || isLining[b] || isLining[c] ? 0 : (drag[a]! + drag[b]! + drag[c]!) / 3;
    }
  }

  #derive(seconds: number): void {
    const h = seconds / countSubsteps(this.#fabric, seconds);
    const points = { isLining: this.#authored.isLining, ...this.#scales };
    this.#heldStretch = derivePairs(this.garment, this.state, this.#fabric, points, h, seconds);
    this.#bend = deriveBend(this.garment, this.state, this.#fabric, points, h);
    deriveVelocityRetention(this.state, this.#fabric, this.#scales.damping, h);
    this.#isStale = false;
    this.#frameSeconds = seconds;
  }

  #recoverIfBroken(): void {
    const { positions, velocities, goodPositions, goodVelocities, nextTargets } = this.state;
    if (this.areFinite(positions) && this.areFinite(velocities)) {
      goodPositions.set(positions);
      goodVelocities.set(velocities);
      return;
    }
    this.recoveredFrames++;
    positions.set(goodPositions);
    velocities.fill(0);
    // The last good places, brought within today's reach.
    const { reach } = this.state;
    for (let i = 0; i < this.garment.pointCount; i++) {
      const o = 4 * i;
      const d = [0, 1, 2].map((k) => positions[o + k]! - nextTargets[o + k]!) as [number, number, number];
      const distance = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
      const scale = distance > reach[i]! ? reach[i]! / distance : 1;
      for (let k = 0; k < 3; k++) positions[o + k] = nextTargets[o + k]! + scale * d[k]!;
    }
    goodPositions.set(positions);
    goodVelocities.fill(0);
  }
}

/** Substeps of a frame: as many as come nearest to the fabric's rate, so that their length hardly hangs on the frame's. */
function countSubsteps({ substepsPerSecond }: FabricSettings, seconds: number): number {
  return Math.max(1, Math.round(substepsPerSecond * seconds));
}

/** Longest side of any triangle at rest, m. */
function measureLargestFace({ stretchRest, stretchShape }: CompiledGarment): number {
  let most = 0;
  for (let s = 0; s < stretchRest.length; s++)
    if (stretchShape[s]! > 0) most = Math.max(most, stretchRest[s]!);
  return most;
}

function isSame(a: Uint8Array, b: Uint8Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

const NO_TURN = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;

function setRows(to: Float32Array, from: Float32Array): void {
  to.set(from.length > to.length ? from.subarray(0, to.length) : from);
}

/** One sum instead of a test for each: anything not finite turns it into NaN. */
function areFinite(values: ArrayLike<number>): boolean {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += 0 * values[i]!;
  return sum === 0;
}
