import { getRoundShape, isRoundBody } from '../bodies/index.ts';
import { FABRIC_DEFAULTS, type FabricSettings } from '../cloth/index.ts';
import {
  type AuthoredDocument,
  type BodyRecord,
  findChannel,
  type GarmentLevel,
  type GarmentRecord,
  LEVEL_EDGES,
  LEVEL_SUBSTEPS,
  listBodies,
  PLAIN_LEVEL,
  type RecordId,
} from '../document/index.ts';
import { readSimEdge, type SimEdge } from '../prepare/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { FRAME_RATE } from '../run/index.ts';
import { measureHeight } from './measure-height.ts';

/** A character is this high, px, where its garments are as they are: about as high as a screen. */
const NEAR_PIXELS = 1000;
/** Levels have edges so many times as long as the garment, and begin where these span as many pixels as its own do near. */
const EDGE_RATIOS = [1.5, 2.25, 3.4];
/** Substeps at each, as a share of the garment's, at least so many in what is simulated at once. */
const SUBSTEP_SHARES = [2 / 3, 1 / 2, 1 / 3];
const LEAST_SUBSTEPS = 2;
/** Edges that are not so many times as long are not worth a mesh of their own. */
const LEAST_RATIO = 1.2;
/** A mesh of fewer vertices is not made coarser. */
const LEAST_VERTICES = 40;
/** Bodies thinner than this on the screen, px, are left out; cloth that keeps off itself by less than this does not. */
const UNSEEN_PIXELS = 3;
/** A chord of a mesh over the thinnest limb that it is on comes no nearer to the middle of it than by this on the screen, px: what lies under it does not show through. */
const CHORD_PIXELS = 2;
/** A limb is under a garment when at least this share of its vertices follows it more than any other. */
const LEAST_LIMB_SHARE = 0.03;
/** Where a vertex goes no farther than this on the screen, px, the garment follows the skin. */
const STILL_PIXELS = 4;
/** At one of these sizes, px high: garments that go off together make one level of them. */
const OFF_PIXELS = [24, 48, 96];

/**
 * Levels of detail for a garment to begin with: coarser meshes with as many pixels to an edge as near by, fewer substeps, without what is too thin to be
 * seen, and off where its motion is. Ours.
 *
 * @param character - Prepared. @returns From near to far.
 */
export function proposeLevels(
  character: Character,
  document: AuthoredDocument,
  garment: GarmentRecord,
): GarmentLevel[] {
  const height = measureHeight(character);
  const record = document.records.get(garment.fabricId);
  const fabric = record?.type === 'fabric' ? record.settings : FABRIC_DEFAULTS;
  const mesh = readSimEdge(character, document, garment);
  const bodies = listBodies(document, garment.bodySetId);
  const thinnest = findThinnest(character, garment, bodies);
  const levels = EDGE_RATIOS.map((ratio, k): GarmentLevel => {
    const pixels = Math.round(NEAR_PIXELS / ratio / 10) * 10;
    const pixelLength = height / pixels;
    const isFarthest = k === EDGE_RATIOS.length - 1;
    return {
      ...PLAIN_LEVEL,
      pixels,
      edgeLength: mesh && chooseEdge(mesh, ratio, Math.sqrt(8 * thinnest * CHORD_PIXELS * pixelLength)),
      substepsPerSecond: chooseSubsteps(fabric, SUBSTEP_SHARES[k]!, isFarthest ? 2 : 1),
      withoutBodies: listThin(bodies, UNSEEN_PIXELS * pixelLength),
      selfCollision: fabric.selfDistance >= UNSEEN_PIXELS * pixelLength,
      rate: isFarthest ? 'everyOther' : 'everyFrame',
    };
  });
  const reach = measureReach(document, garment);
  const still = (STILL_PIXELS * height) / reach;
  const off = OFF_PIXELS.findLast((pixels) => pixels <= still) ?? OFF_PIXELS[0]!;
  return [...levels, { ...PLAIN_LEVEL, pixels: off, blend: 0 }];
}

/** Null: the garment's own mesh is as coarse as it may be. @param longest - Edges may be so long, m. */
function chooseEdge({ edgeLength, pointCount }: SimEdge, ratio: number, longest: number): number | null {
  const most = Math.sqrt(pointCount / LEAST_VERTICES);
  const usable = Math.min(ratio, most, longest / edgeLength);
  // Whole millimetres, as they are typed.
  const rounded = Math.round(1000 * usable * edgeLength) / 1000;
  return usable < LEAST_RATIO ? null : Math.min(LEVEL_EDGES.most, Math.max(LEVEL_EDGES.least, rounded));
}

/** Radius of the thinnest limb that a garment is on, by its bodies, m; Infinity when none is. */
function findThinnest(character: Character, garment: GarmentRecord, bodies: readonly BodyRecord[]): number {
  const section = character.sections[findSection(character, garment)];
  if (!section) return Number.POSITIVE_INFINITY;
  const { influences, jointIndices, jointWeights, skin } = section;
  const vertices = section.positions.length / 3;
  const counts = new Map<number, number>();
  for (let v = 0; v < vertices; v++) {
    let best = influences * v;
    for (let k = best; k < influences * (v + 1); k++) if (jointWeights[k]! > jointWeights[best]!) best = k;
    const joint = jointIndices[best]!;
    counts.set(joint, (counts.get(joint) ?? 0) + 1);
  }
  const { joints } = character.skins[skin]!;
  const names = new Set(
    [...counts]
      .filter(([, count]) => count >= LEAST_LIMB_SHARE * vertices)
      .map(([joint]) => character.skeleton.names[joints[joint]!]),
  );
  return bodies.reduce((least, { jointName, shape, margin }) => {
    if (!names.has(jointName) || !isRoundBody(shape)) return least;
    const { radiusA, radiusB } = getRoundShape(shape);
    return Math.min(least, Math.max(radiusA, radiusB) + margin);
  }, Number.POSITIVE_INFINITY);
}

/** @param frames - So many frames are simulated at once. */
function chooseSubsteps({ substepsPerSecond }: FabricSettings, share: number, frames: number): number | null {
  const steps = Math.max(LEAST_SUBSTEPS, Math.ceil((share * substepsPerSecond * frames) / FRAME_RATE));
  const chosen = Math.max(LEVEL_SUBSTEPS.least, (steps * FRAME_RATE) / frames);
  return chosen < substepsPerSecond ? chosen : null;
}

function listThin(bodies: readonly BodyRecord[], thickness: number): RecordId[] {
  return bodies.flatMap(({ id, shape, margin }) => {
    if (!isRoundBody(shape)) return [];
    const { radiusA, radiusB } = getRoundShape(shape);
    return 2 * (Math.max(radiusA, radiusB) + margin) < thickness ? [id] : [];
  });
}

/** How far the vertex goes that may go farthest, m. */
function measureReach(document: AuthoredDocument, garment: GarmentRecord): number {
  const channel = findChannel(document, garment.id);
  const values = (channel && document.arrays.get(channel.id)) ?? new Float32Array();
  return values.reduce((most, value) => Math.max(most, value), 0.001);
}
