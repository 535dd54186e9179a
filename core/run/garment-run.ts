import {
  type CollisionShape,
  createPosedCollision,
  FIRST_GROUP,
  type PackedCollision,
  type PosedCollision,
  packCollision,
  poseCollision,
} from '../bodies/index.ts';
import {
  type ClothSolver,
  computeWindAt,
  type FrameForces,
  KernelSolver,
  PlainSolver,
  type SurfaceTopology,
  type WindSettings,
} from '../cloth/index.ts';
import { areClear } from '../document/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';
import { computeVertexNormals } from '../mesh/index.ts';
import type { ChannelKind } from '../reach/index.ts';
import { gatherSkinnedRows, type Pose, type Section, type SkinnedRows, skinPoints } from '../rig/index.ts';
import { type MetMesh, poseBodyMesh } from './body-mesh.ts';
import { FeltRoot } from './felt-root.ts';
import { FrameGate } from './frame-gate.ts';
import type { GarmentReach } from './garment-reach.ts';
import type { GarmentSetup } from './garment-setup.ts';
import { type Grip, moveGrip, takeGrip } from './grip.ts';
import { type PointOrigins, writeMapped } from './map-points.ts';
import { type BoundPositions, createBoundPositions, writeBound } from './render-binding.ts';
import { RootMotion, type RootMove, toMatrix } from './root-motion.ts';
import { combineWork, type GarmentWork } from './run-work.ts';

export interface GarmentRunOptions {
  clock?: (() => number) | undefined;
  /** The readable solver instead of the fast one. */
  isPlain?: boolean;
  /** Garments that this one is worn over. */
  beneath?: readonly GarmentRun[];
  /** Other threads may compute its frames. */
  isShared?: boolean;
}

/** What moves the air and the ground in a frame. */
export interface FrameMotion {
  seconds: number;
  wind: WindSettings;
  /** Simulated seconds, for the wind. */
  time: number;
  /** How fast the clip moves over the ground that is taken out of it, m/s: the air comes to meet it. */
  travel: readonly [number, number];
}

/** One garment within a `CharacterRun`: its solver, its skinned targets, and what it meets in the world. */
export class GarmentRun {
  readonly setup: GarmentSetup;
  /** Garments that this one is worn over, and those of them that it is kept off. */
  readonly beneath: readonly GarmentRun[];
  readonly layers: readonly GarmentRun[];
  readonly solver: ClothSolver;
  /** Skinned places of the points, [n, 4]. */
  readonly targets: Float32Array;
  #section: Section;
  readonly #sectionIndex: number;
  #rows: SkinnedRows;
  readonly #root: RootMotion;
  readonly #felt = new FeltRoot();
  #move: RootMove | null = null;
  #met: readonly CollisionShape[];
  #packed: PackedCollision;
  #bodies: PosedCollision;
  readonly #surfaces: Float32Array[];
  readonly #bodyMeshPlaces: Float32Array[];
  readonly #pointNormals: Float32Array;
  /** Between skinned and simulated, when shown so. [n, 4] */
  readonly #blended: Float32Array;
  readonly #bound: BoundPositions[];
  #grip: Grip | null = null;
  /** Null: it is simulated in every frame. */
  readonly #gate: FrameGate | null;
  /** Of a garment that is not simulated in every frame: how far it was from its targets in the state before, and in the last; and where that puts it now. [n, 4] */
  readonly #fromOffsets: Float32Array;
  readonly #toOffsets: Float32Array;
  readonly #between: Float32Array;
  /** Targets of the frame before, of a garment that is not simulated: [n, 4]; null: not known. */
  #lastTargets: Float32Array | null = null;
  /** How long a step the present frame simulates, s; 0: none. */
  #stepSeconds = 0;
  /** The present frame simulates it, and is not settled yet. */
  #isSimulating = false;
  /** Since work was taken last. */
  #frames = 0;

  /** @param joints - Nodes of the garment's skin. */
  constructor(
    section: Section,
    setup: GarmentSetup,
    joints: ArrayLike<number>,
    options: GarmentRunOptions = {},
  ) {
    const { clock, isPlain = false, isShared = false, beneath = [] } = options;
    const { compiled } = setup;
    this.setup = setup;
    this.beneath = beneath;
    this.layers = listLayers(setup, beneath);
    this.#section = section;
    this.#sectionIndex = compiled.sectionIndex;
    const bodyMeshes = setup.bodyMeshes ?? [];
    const surfaces: SurfaceTopology[] = [
      ...this.layers.map(({ setup }) => setup.compiled),
      ...bodyMeshes.map(({ mesh, margin }) => ({ ...mesh, margin })),
    ];
    const Solver = isPlain ? PlainSolver : KernelSolver;
    this.solver = new Solver(compiled, setup.fabric, { ...(clock && { clock }), surfaces, isShared });
    this.solver.setMaxDistances(setup.maxDistances);
    if (setup.inward) this.solver.setInwardLimits(setup.inward.depths, setup.inward.roundness);
    if (setup.lining) this.solver.setLining(setup.lining);
    if (setup.scales) this.solver.setScales(setup.scales);
    this.targets = new Float32Array(4 * compiled.pointCount);
    this.#blended = new Float32Array(4 * compiled.pointCount);
    this.#rows = { ...compiled.skinned, positions: compiled.skinned.positions.slice() };
    this.#root = new RootMotion(joints);
    this.#pointNormals = new Float32Array(3 * compiled.pointCount);
    this.#bodyMeshPlaces = bodyMeshes.map(({ mesh }) => new Float32Array(4 * mesh.pointCount));
    const { rate = 'everyFrame' } = setup;
    this.#gate = rate === 'everyFrame' ? null : new FrameGate(rate);
    const kept = this.#gate ? this.targets.length : 0;
    this.#fromOffsets = new Float32Array(kept);
    this.#toOffsets = new Float32Array(kept);
    this.#between = new Float32Array(kept);
    this.#surfaces = [...this.layers.map(({ simulated }) => simulated), ...this.#bodyMeshPlaces];
    this.#met = this.#filterBodies(setup.bodies);
    this.#packed = packCollision(this.#met);
    this.#bodies = createPosedCollision(this.#packed);
    this.#bound = (setup.renders ?? []).map((binding) =>
      createBoundPositions(binding, compiled.triangles.length / 3),
    );
  }

  /** Bodies that it meets, of those of its set-up. */
  get met(): readonly CollisionShape[] {
    return this.#met;
  }

  /** World-space bodies of the present pose. */
  get bodies(): PosedCollision {
    return this.#bodies;
  }

  /** Places of the points as simulated, [n or more, 4]; of one that is not simulated in every frame, between its states. */
  get simulated(): Float32Array {
    return this.#gate ? this.#between : this.solver.positions;
  }

  /** Places of the points as shown and measured, [n or more, 4]: simulated, or as far towards it as the setup says. */
  get shown(): Float32Array {
    const { blend } = this.setup;
    if (blend === 0) return this.solver.positions;
    const x = this.simulated;
    if (blend === 1) return x;
    for (let i = 0; i < this.#blended.length; i++) {
      this.#blended[i] = this.targets[i]! + blend * (x[i]! - this.targets[i]!);
    }
    return this.#blended;
  }

  /** Takes other skin weights of the same mesh while running. */
  setSection(section: Section): void {
    const { compiled } = this.setup;
    const rows = gatherSkinnedRows(section, compiled.vertexOfPoint);
    this.#section = section;
    this.#rows = rows;
    this.setup.compiled = {
      ...compiled,
      skinned: { skin: section.skin, ...rows, positions: rows.positions.slice() },
    };
  }

  /** Takes new bodies while running. @throws {RangeError} When there are more than a solver keeps. */
  setBodies(bodies: readonly CollisionShape[], pose: Pose): void {
    this.setup.bodies = bodies;
    this.#met = this.#filterBodies(bodies);
    this.#packed = packCollision(this.#met);
    this.#bodies = createPosedCollision(this.#packed);
    poseCollision(this.#packed, pose.worldMatrices, this.#bodies);
  }

  /**
   * Takes other margins and skin weights of the meshes that it meets while running.
   * @param meshes - Those of its set-up, in its order, of the same points.
   */
  setBodyMeshes(meshes: readonly MetMesh[]): void {
    this.setup.bodyMeshes = meshes;
    meshes.forEach(({ margin }, m) => {
      this.solver.setSurfaceMargin(this.layers.length + m, margin);
    });
  }

  /** World-space places of the meshes that it meets, [points, 4] each, in the order of its set-up. */
  get bodyMeshPlaces(): readonly Float32Array[] {
    return this.#bodyMeshPlaces;
  }

  /** Takes what its maps say from the next step on. @param kinds - Channels that changed; others are left alone. */
  setReach({ maxDistances, inward, lining, scales }: GarmentReach, kinds: ReadonlySet<ChannelKind>): void {
    const has = (...some: ChannelKind[]): boolean => some.some((kind) => kinds.has(kind));
    if (has('maxDistance')) {
      this.solver.setMaxDistances(maxDistances);
      this.setup.maxDistances = maxDistances;
    }
    if (has('inwardLimit', 'limitRoundness'))
      this.solver.setInwardLimits(inward?.depths ?? null, inward?.roundness ?? null);
    if (has('lining')) {
      this.solver.setLining(lining);
      this.setup.lining = lining;
    }
    if (has('stiffness', 'damping', 'drag')) this.solver.setScales(scales);
  }

  /** Targets, bodies and body meshes of a pose. @param skinMatrices - Of every skin. */
  follow(pose: Pose, skinMatrices: readonly Float32Array[]): void {
    if (this.#section.morphs.length > 0) this.#followMorphs(pose.morphWeights[this.#sectionIndex]!);
    skinPoints(this.#rows, skinMatrices[this.setup.compiled.skinned.skin]!, this.targets, 4);
    poseCollision(this.#packed, pose.worldMatrices, this.#bodies);
    this.setup.bodyMeshes?.forEach(({ mesh, sectionIndex }, m) => {
      const weights = sectionIndex === null ? null : pose.morphWeights[sectionIndex]!;
      poseBodyMesh(mesh, skinMatrices[mesh.skin]!, this.#bodyMeshPlaces[m]!, weights);
    });
  }

  /** Says how long the frame is that comes next, s: whether it is simulated in it shows by that. */
  begin(seconds: number): void {
    this.#stepSeconds = this.#gate ? this.#gate.pass(seconds) : seconds;
  }

  /** Notes how the root got here from where it was when it was simulated last. @param isJump - Whatever the frame. */
  followRoot(pose: Pose, isJump = false): void {
    if (isJump || this.#stepSeconds > 0) this.#move = this.#root.follow(pose.worldMatrices);
  }

  reset(): void {
    this.#felt.reset();
    this.#move = null;
    this.#lastTargets = null;
    this.solver.reset(this.targets, this.#createForces());
    this.#keepState();
  }

  /**
   * Begins as another run of the same garment is now: as far from its targets, as fast. To be called when all follow one pose.
   * @param map - From the points of that one; null: they are the same.
   */
  takeOver(from: GarmentRun, map: PointOrigins | null): void {
    this.reset();
    const places = new Float32Array(this.targets.length);
    const speeds = new Float32Array(this.targets.length);
    writeMapped(map, from.solver.velocities, speeds);
    if (from.setup.blend === 0) places.set(this.targets);
    else if (!map) places.set(from.simulated.subarray(0, places.length));
    else {
      const offsets = from.targets.map((target, i) => from.simulated[i]! - target);
      writeMapped(map, offsets, places);
      for (let i = 0; i < places.length; i++) places[i] = places[i]! + this.targets[i]!;
    }
    this.solver.place(places, speeds);
    this.#keepState();
  }

  /** What is shown is the present state, and all of it. */
  #keepState(): void {
    if (!this.#gate) return;
    this.#gate.reset();
    const x = this.solver.positions;
    for (let i = 0; i < this.#between.length; i++) {
      this.#between[i] = x[i]!;
      this.#toOffsets[i] = x[i]! - this.targets[i]!;
    }
    this.#fromOffsets.set(this.#toOffsets);
  }

  /** Keeps the cloth's shape through a jump of the character to the pose followed last. */
  jump(): void {
    this.solver.jump(this.targets, this.#createForces(), this.#move ? toMatrix(this.#move.turn) : undefined);
    // Done with: what comes next starts from here.
    this.#move = null;
    this.#lastTargets = null;
    this.#keepState();
  }

  /** Garments that have to be where they are at the end of a frame before this one can go there. */
  get waitsFor(): readonly GarmentRun[] {
    if (this.setup.blend === 0) return this.layers;
    return this.#stepSeconds > 0 && this.solver.meetsLayers ? this.layers : [];
  }

  /**
   * Begins to advance the cloth to the pose followed last; then come `solver.compute` when that is due, `finish`, and `settle` when all
   * garments are there.
   *
   * @returns Whether there is a frame to compute.
   */
  start({ seconds, wind, time, travel }: FrameMotion): boolean {
    this.#frames++;
    // Nothing of the simulation is seen, so nothing is simulated: the cloth lies on the skin until it is.
    if (this.setup.blend === 0) this.#ride(seconds);
    this.#isSimulating = this.setup.blend > 0 && this.#stepSeconds > 0;
    if (this.#isSimulating) this.#startSimulating(this.#stepSeconds, wind, time, travel);
    return this.#isSimulating;
  }

  finish(): void {
    if (this.#isSimulating) this.#finishSimulating();
    if (this.#gate && this.setup.blend > 0) this.#showBetween(this.#gate.share);
  }

  /** Notes where garments beneath came to that it did not wait for. */
  settle(): void {
    if (this.#isSimulating) this.solver.settle(this.#surfaces);
    this.#isSimulating = false;
  }

  /** Lies on its targets, as fast as they are. */
  #ride(seconds: number): void {
    const last = this.#lastTargets;
    this.reset();
    if (last) {
      const { velocities } = this.solver;
      for (let i = 0; i < last.length; i++) {
        velocities[i] = (this.targets[i]! - last[i]!) / seconds;
        last[i] = this.targets[i]!;
      }
    }
    this.#lastTargets = last ?? this.targets.slice();
  }

  #showBetween(share: number): void {
    for (let i = 0; i < this.#between.length; i++) {
      const from = this.#fromOffsets[i]!;
      this.#between[i] = this.targets[i]! + from + share * (this.#toOffsets[i]! - from);
    }
  }

  #startSimulating(seconds: number, wind: WindSettings, time: number, travel: FrameMotion['travel']): void {
    const { fabric } = this.solver;
    const carried = this.#move && this.#felt.feel(this.#move, seconds, fabric);
    if (carried) this.solver.carry(carried);
    const air = computeWindAt(wind, time);
    air.mean[0] -= fabric.rootMotionShare * travel[0];
    air.mean[2] -= fabric.rootMotionShare * travel[1];
    this.solver.begin(seconds, this.targets, { wind: air, ...this.#createForces() });
  }

  #finishSimulating(): void {
    this.solver.finish();
    if (!this.#gate) return;
    const x = this.solver.positions;
    this.#fromOffsets.set(this.#toOffsets);
    for (let i = 0; i < this.#toOffsets.length; i++) this.#toOffsets[i] = x[i]! - this.targets[i]!;
  }

  /** What it did since the last call, counted. */
  takeWork(): GarmentWork {
    const frames = this.#frames;
    this.#frames = 0;
    const waitsFor = (this.solver.meetsLayers ? this.layers : []).map(({ setup }) => setup.id);
    return { ...combineWork(this.setup, this.#met, this.solver.takeWork(), frames), waitsFor };
  }

  /** Takes hold of the cloth around a welded vertex. */
  takeGrip(point: WeldedIndex): void {
    this.#grip = takeGrip(this.setup.compiled, point, this.solver.positions);
  }

  /** Draws what is held to a place; null lets go. */
  moveGrip(position: readonly [number, number, number] | null): void {
    if (!position) this.#grip = null;
    this.solver.setPull(this.#grip && position ? moveGrip(this.#grip, position) : null);
  }

  /** Skinned places of the welded vertices. @param out - [n, 4]. */
  writeTargets(out: Float32Array): void {
    const { weldedOfPoint, pointCount } = this.setup.compiled;
    for (let i = 0; i < pointCount; i++) {
      const to = 4 * weldedOfPoint[i]!;
      for (let k = 0; k < 3; k++) out[to + k] = this.targets[4 * i + k]!;
    }
  }

  /**
   * Places and normals of the render vertices.
   * @param outPositions - [vertices, 3]; `outNormals` - the same.
   */
  writeVertices(outPositions: Float32Array, outNormals: Float32Array): void {
    const { pointOfVertex, triangles } = this.setup.compiled;
    const x = this.shown;
    computeVertexNormals(x, triangles, this.#pointNormals, 4);
    for (let v = 0; v < pointOfVertex.length; v++) {
      const p = pointOfVertex[v]!;
      for (let k = 0; k < 3; k++) {
        outPositions[3 * v + k] = x[4 * p + k]!;
        outNormals[3 * v + k] = this.#pointNormals[3 * p + k]!;
      }
    }
  }

  /** Places and normals of one of the sections drawn in place of the simulated one, see `writeVertices`. */
  writeRender(render: number, outPositions: Float32Array, outNormals: Float32Array): void {
    const binding = this.setup.renders![render]!;
    const { triangles } = this.setup.compiled;
    writeBound(binding, this.shown, triangles, this.#bound[render]!, outPositions, outNormals);
  }

  #createForces(): Pick<FrameForces, 'bodies' | 'surfaces'> {
    return { bodies: this.#bodies, surfaces: this.#surfaces };
  }

  #filterBodies(bodies: readonly CollisionShape[]): CollisionShape[] {
    const mask = this.setup.groups ?? FIRST_GROUP;
    return bodies.filter((body) => ((body.groups ?? FIRST_GROUP) & mask) !== 0);
  }

  #followMorphs(weights: Float64Array): void {
    const { vertexOfPoint, skinned, pointCount } = this.setup.compiled;
    this.#rows.positions.set(skinned.positions);
    this.#section.morphs.forEach((morph, m) => {
      const weight = weights[m]!;
      if (weight === 0) return;
      for (let p = 0; p < pointCount; p++) {
        for (let k = 0; k < 3; k++) {
          const o = 3 * p + k;
          this.#rows.positions[o] =
            this.#rows.positions[o]! + weight * morph.positions[3 * vertexOfPoint[p]! + k]!;
        }
      }
    });
  }
}

/** Those that a garment is kept off, of those that it lies over. */
export function listLayers(setup: GarmentSetup, beneath: readonly GarmentRun[]): readonly GarmentRun[] {
  const complete = ({ id, clearOf = [] }: GarmentSetup): Parameters<typeof areClear>[0] => ({ id, clearOf });
  return beneath.filter((other) => !areClear(complete(setup), complete(other.setup)));
}
