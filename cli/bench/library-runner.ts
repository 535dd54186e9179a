import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type JoltModule from 'jolt-physics/wasm';
import { computeTethers } from '../../core/cloth/index.ts';
import type { Character } from '../../core/rig/index.ts';
import type { Runner } from './cloth-runner.ts';
import {
  BENCH_FABRIC,
  BENCH_FRAME,
  BENCH_SUBSTEPS,
  compileSkirt,
  gradeSkirt,
  poseLegs,
  swayAt,
} from './skirt.ts';

export type Library = Awaited<ReturnType<typeof JoltModule>>;
type Shared = InstanceType<Library['SoftBodySharedSettings']>;
type Bodies = ReturnType<
  ReturnType<InstanceType<Library['JoltInterface']>['GetPhysicsSystem']>['GetBodyInterface']
>;
type BodyId = ReturnType<ReturnType<Bodies['CreateBody']>['GetID']>;

export type LibraryBuild = 'scalar' | 'simd';

/** The general-purpose library in one of its builds; the one for several threads is also the one with SIMD. */
export async function loadLibrary(build: LibraryBuild): Promise<Library> {
  if (build === 'scalar') return await (await import('jolt-physics/wasm')).default();
  const { default: start } = (await import(copyThreadedBuild())) as { default: typeof JoltModule };
  // Its threads must not keep the process, nor the process end while they start.
  const stay = setInterval(() => {}, 1000);
  const library = await start();
  clearInterval(stay);
  return library;
}

/** The build for several threads with one expression mended: as published its threads do not start in Node. */
function copyThreadedBuild(): string {
  const source = createRequire(import.meta.url).resolve('jolt-physics/wasm-multithread');
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-bench-'));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  const script = readFileSync(source, 'utf8').replace(
    'await import("node:worker_threads").workerData',
    '(await import("node:worker_threads")).workerData',
  );
  const copy = join(folder, basename(source));
  writeFileSync(copy, script);
  writeFileSync(join(folder, 'package.json'), '{"type":"module"}');
  const binary = basename(source).replace(/js$/, 'wasm');
  copyFileSync(join(dirname(source), binary), join(folder, binary));
  return pathToFileURL(copy).href;
}

const MOVING_LAYER = 0;
const LEG_LAYER = 1;

/**
 * The same skirt as a soft body of the library: the same edges, bends across two edges down and around (two a
 * point), tethers, skinned places with max distance, and the same bodies, moved each frame.
 * It has no inward limit to keep, which ours has. Its own soft-body update is called on this thread: no scene, no jobs.
 */
export function createLibraryRunner(library: Library, character: Character, side: number): Runner {
  const world = createWorld(library);
  const system = world.GetPhysicsSystem();
  const bodies = system.GetBodyInterface();
  const shared = describeSkirt(library, character, side);
  const creation = new library.SoftBodyCreationSettings(
    shared,
    new library.RVec3(0, 0, 0),
    library.Quat.prototype.sIdentity(),
    MOVING_LAYER,
  );
  creation.mNumIterations = 1;
  creation.mLinearDamping = BENCH_FABRIC.damping;
  creation.mFriction = BENCH_FABRIC.friction;
  creation.mVertexRadius = BENCH_FABRIC.thickness;
  creation.mUpdatePosition = false;
  creation.mAllowSleeping = false;
  const soft = bodies.CreateSoftBody(creation);
  bodies.AddBody(soft.GetID(), library.EActivation_Activate);
  const motion = library.castObject(soft.GetMotionProperties(), library.SoftBodyMotionProperties);
  const legs = createLegs(library, bodies);
  const joints = new library.ArrayMat44();
  joints.resize(1);
  const root = library.RMat44.prototype.sIdentity();
  const skin = (frame: number, isHard: boolean): void => {
    const [x, y, z] = swayAt(frame * BENCH_FRAME);
    joints.at(0).SetTranslation(new library.Vec3(x, y, z));
    motion.SkinVertices(root, joints.data(), 1, isHard, world.GetTempAllocator());
  };
  const at = library.Mat44.prototype.sIdentity();
  for (let column = 0; column < 4; column++) joints.at(0).SetColumn4(column, at.GetColumn4(column));
  skin(0, true);
  return {
    prepare: (frame) => {
      skin(frame, false);
      moveLegs(library, bodies, legs, frame);
    },
    // Four updates of one pass each: so the bodies are tested in every substep, as ours are.
    step: () => {
      for (let i = 0; i < BENCH_SUBSTEPS; i++)
        motion.CustomUpdate(BENCH_FRAME / BENCH_SUBSTEPS, soft, system);
    },
    measureHem: () => motion.GetVertex(side * side - 1).mPosition.GetY(),
  };
}

function createWorld(library: Library): InstanceType<Library['JoltInterface']> {
  const settings = new library.JoltSettings();
  settings.mMaxWorkerThreads = 0;
  const pairs = new library.ObjectLayerPairFilterTable(2);
  pairs.EnableCollision(MOVING_LAYER, LEG_LAYER);
  const layers = new library.BroadPhaseLayerInterfaceTable(2, 2);
  layers.MapObjectToBroadPhaseLayer(MOVING_LAYER, new library.BroadPhaseLayer(0));
  layers.MapObjectToBroadPhaseLayer(LEG_LAYER, new library.BroadPhaseLayer(1));
  settings.mObjectLayerPairFilter = pairs;
  settings.mBroadPhaseLayerInterface = layers;
  settings.mObjectVsBroadPhaseLayerFilter = new library.ObjectVsBroadPhaseLayerFilterTable(
    layers,
    2,
    pairs,
    2,
  );
  return new library.JoltInterface(settings);
}

function describeSkirt(library: Library, character: Character, side: number): Shared {
  const shared = new library.SoftBodySharedSettings();
  const garment = compileSkirt(character, { order: 'natural' });
  const reach = gradeSkirt(character);
  const { positions, triangles } = character.sections[0]!;
  const vertex = new library.SoftBodySharedSettingsVertex();
  for (let p = 0; p < reach.length; p++) {
    vertex.mPosition = new library.Float3(positions[3 * p]!, positions[3 * p + 1]!, positions[3 * p + 2]!);
    vertex.mInvMass = reach[p] === 0 ? 0 : 1 / (BENCH_FABRIC.density * garment.pointAreas[p]!);
    shared.mVertices.push_back(vertex);
  }
  for (let i = 0; i < triangles.length; i += 3) {
    shared.AddFace(
      new library.SoftBodySharedSettingsFace(triangles[i]!, triangles[i + 1]!, triangles[i + 2]!, 0),
    );
  }
  garment.stretchShape.forEach((shape, s) => {
    if (shape === 0) return;
    const [a, b] = [garment.stretchPairs[2 * s]!, garment.stretchPairs[2 * s + 1]!];
    const compliance = 1 / (BENCH_FABRIC.stretchWarp * shape);
    shared.mEdgeConstraints.push_back(new library.SoftBodySharedSettingsEdge(a, b, compliance));
  });
  // Bends: from each point to the one after the next, around and down.
  for (let r = 0; r < side; r++) {
    for (let c = 0; c < side; c++) {
      const a = r * side + c;
      const add = (b: number): void =>
        shared.mEdgeConstraints.push_back(new library.SoftBodySharedSettingsEdge(a, b, 1));
      add(r * side + ((c + 2) % side));
      if (r + 2 < side) add(a + 2 * side);
    }
  }
  shared.CalculateEdgeLengths();
  shared.mInvBindMatrices.resize(1);
  const bind = shared.mInvBindMatrices.at(0);
  bind.mJointIndex = 0;
  bind.mInvBind = library.Mat44.prototype.sIdentity();
  shared.mSkinnedConstraints.resize(reach.length);
  const tethers = computeTethers(
    garment,
    Uint8Array.from(reach, (value) => (value > 0 ? 0 : 1)),
  );
  for (let p = 0; p < reach.length; p++) {
    const skinned = shared.mSkinnedConstraints.at(p);
    skinned.mVertex = p;
    const weight = skinned.get_mWeights(0);
    weight.mInvBindIndex = 0;
    weight.mWeight = 1;
    skinned.mMaxDistance = reach[p]!;
    if (reach[p] === 0) continue;
    const most = tethers.lengths[p]! * BENCH_FABRIC.stretchCap;
    shared.mLRAConstraints.push_back(new library.SoftBodySharedSettingsLRA(tethers.anchors[p]!, p, most));
  }
  shared.Optimize();
  return shared;
}

function createLegs(library: Library, bodies: Bodies): BodyId[] {
  return poseLegs(0).map(({ a, b, radiusA, radiusB }) => {
    const half = Math.hypot(...a.map((value, k) => b[k]! - value)) / 2;
    const shape = new library.TaperedCapsuleShapeSettings(half, radiusA, radiusB).Create().Get();
    const creation = new library.BodyCreationSettings(
      shape,
      new library.RVec3(0, 0, 0),
      library.Quat.prototype.sIdentity(),
      library.EMotionType_Kinematic,
      LEG_LAYER,
    );
    const body = bodies.CreateBody(creation);
    bodies.AddBody(body.GetID(), library.EActivation_Activate);
    return body.GetID();
  });
}

/** Puts the legs where they are at the end of a frame, with the speed that brings them there. */
function moveLegs(library: Library, bodies: Bodies, legs: readonly BodyId[], frame: number): void {
  const before = poseLegs((frame - 1) * BENCH_FRAME);
  poseLegs(frame * BENCH_FRAME).forEach(({ a, b }, k) => {
    const middle = a.map((value, i) => (value + b[i]!) / 2);
    const from = before[k]!.a.map((value, i) => (value + before[k]!.b[i]!) / 2);
    // The library's capsule stands along +y, its first radius on top.
    const up = new library.Vec3(a[0] - b[0], a[1] - b[1], a[2] - b[2]).Normalized();
    const turn = library.Quat.prototype.sFromTo(new library.Vec3(0, 1, 0), up);
    const place = new library.RVec3(middle[0]!, middle[1]!, middle[2]!);
    bodies.SetPositionAndRotation(legs[k]!, place, turn, library.EActivation_Activate);
    const [x, y, z] = middle.map((value, i) => (value - from[i]!) / BENCH_FRAME) as [number, number, number];
    bodies.SetLinearAndAngularVelocity(legs[k]!, new library.Vec3(x, y, z), new library.Vec3(0, 0, 0));
  });
}
