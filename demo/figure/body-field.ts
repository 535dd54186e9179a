import { type DistanceFunction, measurePart, smoothMin } from './distance.ts';
import { type Cover, FIGURE_PARTS, type FigurePart } from './figure-parts.ts';
import { JOINT_INDEX } from './joints.ts';

/** The soles are cut flat at this height, metres. */
export const SOLE_HEIGHT = 0.004;

interface SidedPart {
  part: FigurePart;
  /** -1: measured at mirrored x. */
  sign: 1 | -1;
}

const PARTS: readonly SidedPart[] = FIGURE_PARTS.flatMap((part): SidedPart[] =>
  part.isPaired
    ? [
        { part, sign: 1 },
        { part, sign: -1 },
      ]
    : [{ part, sign: 1 }],
);

/**
 * Distance to the whole figure, or to the parts that matter near a place.
 * @param near - Only parts within this distance of the middle are used: [x, y, z, radius].
 */
export function createBodyField(near?: readonly [number, number, number, number]): DistanceFunction {
  const parts = near ? PARTS.filter((sided) => isNear(sided, near)) : PARTS;
  return (x, y, z) => {
    let d = 1e3;
    for (const { part, sign } of parts) d = smoothMin(d, measurePart(part, sign * x, y, z), part.blend);
    return Math.max(d, SOLE_HEIGHT - y);
  };
}

function isNear(
  { part, sign }: SidedPart,
  [x, y, z, radius]: readonly [number, number, number, number],
): boolean {
  // Scaled parts measure short by at most the stretch of their scale.
  const stretch = Math.max(part.scaleX, part.scaleZ, 1) / Math.min(1, part.scaleX, part.scaleZ);
  return measurePart(part, sign * x, y, z) < radius * stretch + part.blend;
}

const BLOCK_SIZE = 0.04;
/** Distances up to this (metres) are exact in a block; farther out they may be too large. */
const EXACT_WITHIN = 0.03;

/** The distance to the whole figure, with the parts that matter looked up by block: as exact near the surface, and fast. */
export function createFastBodyField(): DistanceFunction {
  const half = (BLOCK_SIZE * Math.sqrt(3)) / 2;
  const whole = createBodyField();
  const blocks = new Map<number, DistanceFunction>();
  return (x, y, z) => {
    const [i, j, k] = [Math.floor(x / BLOCK_SIZE), Math.floor(y / BLOCK_SIZE), Math.floor(z / BLOCK_SIZE)];
    const key = i + 512 + 1024 * (j + 512) + 1024 * 1024 * (k + 512);
    let field = blocks.get(key);
    if (!field) {
      const middle = [i, j, k].map((n) => (n + 0.5) * BLOCK_SIZE) as [number, number, number];
      const isClose = Math.abs(whole(...middle)) < half + EXACT_WITHIN;
      field = isClose ? createBodyField([...middle, half + EXACT_WITHIN]) : whole;
      blocks.set(key, field);
    }
    return field(x, y, z);
  };
}

/** What covers the figure at a place of its surface, and which joint (with its side) the nearest part follows. */
export function describePosition(
  x: number,
  y: number,
  z: number,
): { cover: Cover; joint: string; part: FigurePart } {
  let best: SidedPart = PARTS[0]!;
  let bestDistance = Number.POSITIVE_INFINITY;
  for (const sided of PARTS) {
    const d = measurePart(sided.part, sided.sign * x, y, z);
    if (d < bestDistance) {
      bestDistance = d;
      best = sided;
    }
  }
  // Paired parts of the trunk and head (ears, shoulder blades) follow a joint of the middle.
  const sided = best.part.joint + (best.sign > 0 ? '_l' : '_r');
  const joint = best.part.isPaired && JOINT_INDEX.has(sided) ? sided : best.part.joint;
  return { cover: best.part.cloth, joint, part: best.part };
}

export interface CoverDistance {
  cover: Cover;
  /** To the nearest part that wears it, m. */
  distance: number;
}

const COVERS = [...new Set(FIGURE_PARTS.map(({ cloth }) => cloth))];
const COVER_OF_PART = FIGURE_PARTS.map(({ cloth }) => COVERS.indexOf(cloth));

/** What covers the figure at a place of its left side, and what covers it next to that. */
export function measureCovers(x: number, y: number, z: number): [own: CoverDistance, other: CoverDistance] {
  const distances = COVERS.map(() => Number.POSITIVE_INFINITY);
  for (let p = 0; p < FIGURE_PARTS.length; p++) {
    const distance = measurePart(FIGURE_PARTS[p]!, x, y, z);
    const c = COVER_OF_PART[p]!;
    if (distance < distances[c]!) distances[c] = distance;
  }
  const [own, other] = COVERS.map((cover, c) => ({ cover, distance: distances[c]! })).sort(
    (p, q) => p.distance - q.distance,
  );
  return [own!, other!];
}
