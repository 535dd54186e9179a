import { isRound } from '../bodies/index.ts';
import { type BodyCounts, createCounts, SOLVER_WORK, type SolverWork } from '../cloth/index.ts';
import type { RecordId } from '../document/index.ts';
import type { SkinnedRows } from '../rig/index.ts';
import type { GarmentSetup } from './garment-setup.ts';

/** What moves a character besides its cloth, counted once a frame however often it is looked at. */
const SKIN_WORK = [
  // Joints posed; weights and vertices of the cloth, and of body meshes, on their skinned places; bodies moved with their joints.
  { key: 'joints', part: 'skinning', unit: 'joint', isPerFrame: true },
  { key: 'skinWeights', part: 'skinning', unit: 'skinWeight', isPerFrame: true },
  { key: 'movedBodies', part: 'skinning', unit: 'movedBody', isPerFrame: true },
  // Triangles of the sim mesh that a vertex drawn in its place follows; vertices drawn, with their normals.
  { key: 'bindings', part: 'skinning', unit: 'binding', isPerFrame: true },
  { key: 'drawnVertices', part: 'skinning', unit: 'drawnVertex', isPerFrame: true },
] as const;

/** All that is counted, see `SOLVER_WORK`. */
export const WORK = [...SOLVER_WORK, ...SKIN_WORK] as const;

export type WorkKey = (typeof WORK)[number]['key'];
export type WorkPart = (typeof WORK)[number]['part'];
export type WorkUnit = (typeof WORK)[number]['unit'];

export const WORK_KEYS: readonly WorkKey[] = WORK.map(({ key }) => key);
export const WORK_UNITS: readonly WorkUnit[] = [...new Set(WORK.map(({ unit }) => unit))];

export type WorkCounts = Record<WorkKey, number>;

/** What one collision body made a garment do. */
export interface BodyWork extends BodyCounts {
  id: string | null;
  isRound: boolean;
  /** It was touched before this was counted: how the cloth lies may come from it. */
  isTouchedBefore?: boolean;
}

/** What one garment made a run do. */
export interface GarmentWork {
  garmentId: RecordId;
  counts: WorkCounts;
  bodies: readonly BodyWork[];
  /** Garments that have to be there before it can go on; not told in trials of before that was noted: then all before it. */
  waitsFor?: readonly RecordId[];
}

/** What a run did since it was asked last. */
export interface RunWork {
  frames: number;
  /** How long those frames were, simulated. */
  seconds: number;
  /** Nodes of the skeleton and joints of skins that were posed: of no garment alone. */
  joints: number;
  garments: readonly GarmentWork[];
}

/** Nothing done, of every kind. */
export function createWorkCounts(): WorkCounts {
  const skin = Object.fromEntries(SKIN_WORK.map(({ key }) => [key, 0])) as Record<
    (typeof SKIN_WORK)[number]['key'],
    number
  >;
  return { ...createCounts(), ...skin };
}

/** Adds counts to others. */
export function addCounts(to: WorkCounts, counts: WorkCounts): void {
  for (const key of WORK_KEYS) to[key] += counts[key];
}

/** All that several of the same run did; null of none. */
export function sumWork(works: readonly RunWork[]): RunWork | null {
  const [first] = works;
  if (!first) return null;
  const garments = first.garments.map((_, g) =>
    works.slice(1).reduce((sum, work) => addGarmentWork(sum, work.garments[g]!), first.garments[g]!),
  );
  return {
    frames: works.reduce((sum, { frames }) => sum + frames, 0),
    seconds: works.reduce((sum, { seconds }) => sum + seconds, 0),
    joints: works.reduce((sum, { joints }) => sum + joints, 0),
    garments,
  };
}

/** What a garment did in two runs, or at two levels. Bodies are the same ones by their id; those without one, by their place. */
export function addGarmentWork(one: GarmentWork, other: GarmentWork): GarmentWork {
  const counts = { ...one.counts };
  addCounts(counts, other.counts);
  const keyOf = ({ id, isRound }: GarmentWork['bodies'][number], b: number): string =>
    id ?? `${isRound} ${b}`;
  const bodies = new Map(one.bodies.map((body, b) => [keyOf(body, b), { ...body }]));
  other.bodies.forEach((body, b) => {
    const known = bodies.get(keyOf(body, b));
    if (!known) bodies.set(keyOf(body, b), { ...body });
    else {
      for (const key of BODY_COUNTS) known[key] += body[key];
      if (body.isTouchedBefore) known.isTouchedBefore = true;
    }
  });
  return { ...one, counts, bodies: [...bodies.values()] };
}

const BODY_COUNTS = ['tested', 'touched', 'faces'] as const;

/** What a garment's solver did, and what carrying and drawing it takes besides. @param frames - How many that was. */
export function combineWork(
  setup: GarmentSetup,
  met: GarmentSetup['bodies'],
  { counts, bodies }: SolverWork,
  frames: number,
): GarmentWork {
  const { compiled, renders = [], bodyMeshes = [] } = setup;
  // What is not simulated is drawn with the rest of the character's skin.
  const carried = setup.blend === 0 ? 0 : frames;
  const skinned = [compiled.skinned, ...bodyMeshes.map(({ mesh }) => mesh.rows)];
  const drawn =
    renders.length > 0 ? renders.map(({ vertexCount }) => vertexCount) : [compiled.pointOfVertex.length];
  const ordered = [...met.filter(isRound), ...met.filter((shape) => !isRound(shape))];
  return {
    garmentId: setup.id,
    counts: {
      ...createWorkCounts(),
      ...counts,
      skinWeights: carried * skinned.reduce((sum, rows) => sum + countWeights(rows), 0),
      movedBodies: carried * met.length,
      bindings: carried * renders.reduce((sum, { entries }) => sum + entries.length, 0),
      drawnVertices: carried * drawn.reduce((sum, vertices) => sum + vertices, 0),
    },
    bodies: bodies.map((body, b) => ({
      ...body,
      id: ordered[b]?.id ?? null,
      isRound: ordered[b] ? isRound(ordered[b]) : true,
    })),
  };
}

const weightCounts = new WeakMap<Float32Array, number>();

function countWeights({ jointWeights }: Omit<SkinnedRows, 'positions'>): number {
  const known = weightCounts.get(jointWeights);
  if (known !== undefined) return known;
  const count = jointWeights.reduce((sum, weight) => sum + (weight === 0 ? 0 : 1), 0);
  weightCounts.set(jointWeights, count);
  return count;
}
