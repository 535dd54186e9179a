import { isRoundBody } from '../bodies/index.ts';
import { type Pricing, priceWork } from '../cost/index.ts';
import {
  type AuthoredDocument,
  areClear,
  type FabricRecord,
  findChannel,
  type GarmentRecord,
  listBodies,
  listBodyMeshes,
  listGarments,
  type RecordId,
} from '../document/index.ts';
import { listThinFaces } from '../mesh/index.ts';
import { readSimEdge } from '../prepare/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { FRAME_RATE, type RunWork } from '../run/index.ts';
import { createSectionMesh } from '../steps/index.ts';
import type { BudgetChange } from './budget-change.ts';

/** So many of the most costly bodies are tried one by one. */
const MOST_BODIES = 5;
/** Substeps a frame are tried at these shares of what they are, at least so many. */
const SUBSTEP_SHARES = [2 / 3, 1 / 2, 1 / 3];
const LEAST_SUBSTEPS = 2;
/** Edges are tried so many times as long, of meshes that have enough vertices. */
const EDGE_RATIOS = [1.3, 1.7];
const LEAST_VERTICES = 150;
/** Reach below these, m, is tried as none; where at least this share of the vertices has so little. */
const HOLD_LIMITS = [0.01, 0.02];
const LEAST_HELD_SHARE = 0.02;

/**
 * What may make an asset cheaper, from what it did: each to be tried, none is known to help. Ours.
 *
 * @param character - Prepared. @param work - Of all that was played, summed.
 */
export function proposeChanges(
  character: Character,
  document: AuthoredDocument,
  work: RunWork,
  pricing: Pricing,
): BudgetChange[] {
  const garments = listGarments(document).filter(({ blend }) => blend > 0);
  return [
    ...proposeBodies(document, garments, work, pricing),
    ...listFabrics(document, garments).flatMap(proposeSettings),
    ...garments.flatMap((garment, g) => proposeClear(document, garment, garments.slice(0, g))),
    ...garments.flatMap((garment) => proposeMesh(character, document, garment)),
    ...garments.flatMap((garment) => proposeRows(character, garment)),
    ...garments.flatMap((garment) => proposeHold(document, garment)),
  ];
}

function proposeBodies(
  document: AuthoredDocument,
  garments: readonly GarmentRecord[],
  work: RunWork,
  pricing: Pricing,
): BudgetChange[] {
  const touches = new Map<string, number>();
  // How cloth settled on a body stays in its folds long after it has left it.
  for (const { bodies } of work.garments)
    for (const { id, touched, faces, isTouchedBefore } of bodies)
      if (id !== null) touches.set(id, (touches.get(id) ?? 0) + touched + faces + (isTouchedBefore ? 1 : 0));
  const costs = new Map<string, number>();
  for (const { bodies } of priceWork(work, pricing).garments)
    for (const [id, cost] of bodies) costs.set(id, (costs.get(id) ?? 0) + cost);
  const sets = [...new Set(garments.map(({ bodySetId }) => bodySetId))];
  const bodies = sets.flatMap((set) => listBodies(document, set));
  const idle = bodies.filter(({ id }) => touches.get(id) === 0).map(({ id }) => id);
  const touched = bodies
    .filter(({ id }) => !idle.includes(id) && costs.has(id))
    .sort((p, q) => costs.get(q.id)! - costs.get(p.id)! || (p.id < q.id ? -1 : 1));
  return [
    ...(idle.length > 0 ? [{ kind: 'dropBodies', bodyIds: idle } as const] : []),
    ...touched
      .filter(({ shape }) => !isRoundBody(shape) && shape.kind !== 'plane')
      .map(({ id }) => ({ kind: 'roundBody', bodyId: id }) as const),
    ...touched.slice(0, MOST_BODIES).map(({ id }) => ({ kind: 'dropBodies', bodyIds: [id] }) as const),
    ...sets
      .flatMap((set) => listBodyMeshes(document, set))
      .map(({ id }) => ({ kind: 'dropBodyMesh', bodyMeshId: id }) as const),
  ];
}

function listFabrics(document: AuthoredDocument, garments: readonly GarmentRecord[]): FabricRecord[] {
  const ids = new Set<RecordId>(garments.map(({ fabricId }) => fabricId));
  return [...ids].flatMap((id) => {
    const record = document.records.get(id);
    return record?.type === 'fabric' ? [record] : [];
  });
}

function proposeSettings({ id: fabricId, settings }: FabricRecord): BudgetChange[] {
  const now = settings.substepsPerSecond / FRAME_RATE;
  const fewer = SUBSTEP_SHARES.map((share) => Math.max(LEAST_SUBSTEPS, Math.ceil(share * now)));
  return [
    ...[...new Set(fewer)]
      .filter((count) => count < now)
      .map((count) => ({ kind: 'substeps', fabricId, substepsPerSecond: FRAME_RATE * count }) as const),
    ...(settings.iterations > 1
      ? [{ kind: 'iterations', fabricId, iterations: Math.ceil(settings.iterations / 2) } as const]
      : []),
    ...(settings.selfDistance > 0 ? [{ kind: 'noSelfCollision', fabricId } as const] : []),
  ];
}

function proposeClear(
  { records }: AuthoredDocument,
  garment: GarmentRecord,
  beneath: readonly GarmentRecord[],
): BudgetChange[] {
  const fabric = records.get(garment.fabricId);
  if (fabric?.type !== 'fabric' || fabric.settings.layerMargin === 0) return [];
  return beneath
    .filter((other) => !areClear(garment, other))
    .map(({ id }) => ({ kind: 'clear', garmentId: garment.id, otherId: id }));
}

function proposeMesh(
  character: Character,
  document: AuthoredDocument,
  garment: GarmentRecord,
): BudgetChange[] {
  const mesh = readSimEdge(character, document, garment);
  if (!mesh || mesh.pointCount < LEAST_VERTICES) return [];
  return EDGE_RATIOS.map((ratio) => ({
    kind: 'simMesh',
    garmentId: garment.id,
    // Whole millimetres, as they are typed.
    edgeLength: Math.max(0.001, Math.round(1000 * ratio * mesh.edgeLength) / 1000),
  }));
}

/** Of a sim mesh that was made here there are none. */
function proposeRows(character: Character, garment: GarmentRecord): BudgetChange[] {
  const index = findSection(character, garment);
  if (index < 0 || garment.renders.length > 0) return [];
  const hasRows = listThinFaces(createSectionMesh(character, index)).length > 0;
  return hasRows ? [{ kind: 'joinRows', garmentId: garment.id }] : [];
}

function proposeHold(document: AuthoredDocument, garment: GarmentRecord): BudgetChange[] {
  const channel = findChannel(document, garment.id);
  const values = (channel && document.arrays.get(channel.id)) ?? new Float32Array();
  let before = values.filter((value) => value === 0).length;
  return HOLD_LIMITS.flatMap((below) => {
    const held = values.filter((value) => value < below).length;
    if (held === values.length || held - before < LEAST_HELD_SHARE * values.length) return [];
    before = held;
    return [{ kind: 'hold', garmentId: garment.id, below } as const];
  });
}
