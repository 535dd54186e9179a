import { BodyDistances, meetShape } from '../bodies/index.ts';
import {
  type AuthoredDocument,
  type BodyMeshRecord,
  listBodyMeshes,
  listFollowingBodies,
  listGarments,
  type RecordId,
} from '../document/index.ts';
import { type Character, computeSkinMatrices, findSection } from '../rig/index.ts';
import { createBodyMesh, type GarmentSetup, MeshDistances, poseBodyMesh } from '../run/index.ts';
import { type BodySkin, measureReach } from '../suggest/index.ts';
import { COVERED, FARTHEST, OVERHUNG } from './distances.ts';
import { findLargestHole, type SkinHole } from './find-hole.ts';

/** Skin that garments touch more than this, see `measureReach`, is looked at. */
const LEAST_REACH = 0.1;

/** How bodies fill a part of the skin. */
export interface FitFigures {
  /** m² of skin that is looked at. */
  area: number;
  /** Share of it within 5 mm of a body or inside one; NaN without any. */
  coverage: number;
  /** What 95 % of it lies inside bodies at most, m: so far they stand out. */
  overhang: number;
}

export interface PoseFit extends FitFigures {
  hole: SkinHole | null;
}

/** Figures in bind pose, and over the poses of the clips; null without clips. */
export interface BodyFit {
  bind: FitFigures;
  clips: FitFigures | null;
}

export interface SetFit {
  bind: PoseFit;
  /** On the mean of the poses; the hole is the largest of any. */
  clips: PoseFit | null;
  /** Of the skin that is nearest to each body, and to each mesh of the set. */
  bodies: { id: RecordId; fit: BodyFit }[];
  /** Of the skin that each joint moves most, those with most of it first. */
  joints: { name: string; fit: BodyFit }[];
  /**
   * Of each point of the skin its signed distance from the nearest body, m, negative inside, at most `FARTHEST`: in bind pose, and in the
   * pose of the clips where it is worst. NaN where no garment of the set comes. [n] each
   */
  values: { bind: Float32Array; clips: Float32Array };
}

export interface FitRequest {
  bodySetId: RecordId;
  /** Of the character, with the poses that are looked at. */
  skin: BodySkin;
  /** The character without its body shape. */
  base: Character;
  /** How much each point can be touched, see `measureSetReach`. [n] */
  reach: Float32Array;
}

/** How much each point of the skin can be touched by the garments that use a set, over the poses; by all garments when none uses it. [n] */
export function measureSetReach(
  document: AuthoredDocument,
  skin: BodySkin,
  garments: readonly GarmentSetup[],
  bodySetId: RecordId,
): Float32Array {
  const wearers = new Set(
    listGarments(document)
      .filter((garment) => garment.bodySetId === bodySetId)
      .map(({ id }) => id),
  );
  return measureReach(
    skin,
    garments.map((garment) => (wearers.size === 0 || wearers.has(garment.id) ? garment : null)),
  );
}

/**
 * How the bodies of a set fill the skin that its garments can touch, in bind pose and over the clips: share that is covered, how far bodies
 * stand out of the skin, and the largest hole. Skin of each pose is asked for its distance from every body, corners and edges
 * included; areas are those of the bind pose. Ours.
 */
export function measureFitFigures(
  document: AuthoredDocument,
  { bodySetId, skin, base, reach }: FitRequest,
): SetFit {
  const { names } = skin.character.skeleton;
  const bodies = listFollowingBodies(document, bodySetId, { base, shaped: skin.character }).filter(
    ({ jointName }) => names.includes(jointName),
  );
  const distances = new BodyDistances(
    bodies.map(({ shape, jointName, margin }) => meetShape(shape, names.indexOf(jointName), margin)),
  );
  const meshes = listBodyMeshes(document, bodySetId).flatMap((record) => {
    const measure = createMeshMeasure(skin.character, record);
    return measure ? [{ id: record.id, measure }] : [];
  });
  const measures = meshes.map(({ measure }) => measure);
  const points = [...reach.keys()].filter((p) => reach[p]! > LEAST_REACH && skin.areas[p]! > 0);
  const count = reach.length;
  const nearest = new Int32Array(count).fill(-1);
  const poses = skin.poses.map((pose, index) => {
    distances.pose(pose.matrices);
    for (const measure of measures) measure.pose(pose.matrices);
    return measurePose({ distances, measures }, pose.positions, points, index === 0 ? nearest : null);
  });
  const [bind, ...played] = poses as [Float32Array, ...Float32Array[]];
  const tell = (chosen: readonly number[]): BodyFit => ({
    bind: summarise(skin.areas, chosen, [bind]),
    clips: played.length > 0 ? summarise(skin.areas, chosen, played) : null,
  });
  const whole = tell(points);
  const findHole = (values: readonly Float32Array[], first: number): SkinHole | null =>
    findLargestHole(skin, points, values, first);
  return {
    bind: { ...whole.bind, hole: findHole([bind], 0) },
    clips: whole.clips && { ...whole.clips, hole: findHole(played, 1) },
    bodies: [...bodies, ...meshes].map(({ id }, b) => ({
      id,
      fit: tell(points.filter((p) => nearest[p] === b)),
    })),
    joints: listJoints(skin, points).map(({ node, own }) => ({ name: names[node]!, fit: tell(own) })),
    values: { bind, clips: played.length > 0 ? findWorst(played) : bind.slice() },
  };
}

/** A mesh of a set that can be posed and asked. */
interface MeshMeasure {
  /** @param matrices - World, of all nodes. */
  pose(matrices: Float64Array): void;
  /** See `MeshDistances`. */
  measureBelow(x: number, y: number, z: number, least: number): number;
}

/** Null when the character lacks its section. Its morph targets are as the character stands, whatever a clip does with them. */
function createMeshMeasure(character: Character, record: BodyMeshRecord): MeshMeasure | null {
  const section = character.sections[findSection(character, record)];
  if (!section) return null;
  const mesh = createBodyMesh(section);
  const distances = new MeshDistances(mesh, record.margin);
  const skin = character.skins[section.skin]!;
  const matrices = new Float32Array(16 * skin.joints.length);
  const places = new Float32Array(4 * mesh.pointCount);
  return {
    pose: (world) => {
      computeSkinMatrices(skin, world, matrices);
      poseBodyMesh(mesh, matrices, places, section.morphWeights);
      distances.pose(places);
    },
    measureBelow: (...place) => distances.measureBelow(...place),
  };
}

/** Signed distance of each point asked for from the nearest body or mesh. @param nearest - Told which it is, bodies first, [n]. */
function measurePose(
  { distances, measures }: { distances: BodyDistances; measures: readonly MeshMeasure[] },
  positions: Float32Array,
  points: readonly number[],
  nearest: Int32Array | null,
): Float32Array {
  const values = new Float32Array(positions.length / 3).fill(Number.NaN);
  for (const p of points) {
    const [x, y, z] = [positions[3 * p]!, positions[3 * p + 1]!, positions[3 * p + 2]!];
    let least = FARTHEST;
    for (let body = 0; body < distances.count; body++) {
      const distance = distances.measure(body, x, y, z, FARTHEST);
      if (distance >= least) continue;
      least = distance;
      if (nearest) nearest[p] = body;
    }
    measures.forEach((mesh, m) => {
      const distance = mesh.measureBelow(x, y, z, least);
      if (distance >= least) return;
      least = distance;
      if (nearest) nearest[p] = distances.count + m;
    });
    values[p] = least;
  }
  return values;
}

function summarise(
  areas: Float32Array,
  points: readonly number[],
  poses: readonly Float32Array[],
): FitFigures {
  let area = 0;
  let covered = 0;
  const depths: { depth: number; area: number }[] = [];
  for (const values of poses) {
    for (const p of points) {
      area += areas[p]!;
      if (values[p]! <= COVERED) covered += areas[p]!;
      depths.push({ depth: Math.max(0, -values[p]!), area: areas[p]! });
    }
  }
  depths.sort((p, q) => p.depth - q.depth);
  let below = 0;
  const at = depths.find((row) => {
    below += row.area;
    return below >= 0.95 * area;
  });
  return {
    area: area / poses.length,
    coverage: area > 0 ? covered / area : Number.NaN,
    overhang: at?.depth ?? 0,
  };
}

/** Of each point its value in the pose in which it is farthest from being filled well. */
function findWorst(poses: readonly Float32Array[]): Float32Array {
  const worst = poses[0]!.slice();
  const rate = (value: number): number => Math.max(value - COVERED, -value - OVERHUNG);
  for (const values of poses)
    for (let p = 0; p < worst.length; p++) if (rate(values[p]!) > rate(worst[p]!)) worst[p] = values[p]!;
  return worst;
}

function listJoints(
  { joints, areas }: BodySkin,
  points: readonly number[],
): { node: number; own: number[] }[] {
  const own = new Map<number, number[]>();
  for (const p of points) {
    const node = joints[p]!;
    if (node < 0) continue;
    if (!own.has(node)) own.set(node, []);
    own.get(node)!.push(p);
  }
  const area = (list: readonly number[]): number => list.reduce((sum, p) => sum + areas[p]!, 0);
  return [...own].map(([node, list]) => ({ node, own: list })).sort((p, q) => area(q.own) - area(p.own));
}
