import {
  type BodyShape,
  convertShape,
  createCapsuleHit,
  isRoundBody,
  measureTaperedCapsule,
  packBodies,
  poseCapsules,
  type RoundShape,
} from '../bodies/index.ts';
import type { BodySkin } from './body-skin.ts';
import type { PlacedShape } from './list-candidates.ts';

/** Skin inside is covered; farther outside than this, m, it is bare. */
const BARE = 0.008;
/** Skin deeper inside than this, m, is overhung; and wholly so at so much. */
const FREE_DEPTH = 0.011;
const MOST_DEPTH = 0.03;

/** Cover that comes and goes by so much at the ends of a limb is no straying. */
const LOOSE = 0.5;

export interface Cover {
  /** How far shapes cover each point, 0 to 1, and how much they overhang it, on the mean of the poses. [n] each */
  covered: Float32Array;
  overhung: Float32Array;
  /**
   * Skin that they cover in bind pose and that leaves them in the other poses, on the mean, m²: they stand out there, as a rod does that
   * goes past a bent elbow.
   */
  stray: number;
}

/** How shapes cover the skin over all poses. What is not round counts as the capsule that fits it best. */
export function measureCover({ poses, positions, areas }: BodySkin, shapes: readonly PlacedShape[]): Cover {
  const count = positions.length / 3;
  const covered = new Float32Array(count);
  const overhung = new Float32Array(count);
  const { rows, nodes } = packBodies(
    shapes.map(({ node, shape, margin }) => ({ ...toRoundShape(shape), node, margin })),
  );
  const posed = new Float32Array(rows.length);
  const hit = createCapsuleHit();
  let atRest: Float32Array | null = null;
  let stray = 0;
  for (const pose of poses) {
    const now = new Float32Array(count);
    poseCapsules(rows, nodes, pose.matrices, posed);
    const boxes = boundRows(posed);
    for (let p = 0; p < count; p++) {
      const [x, y, z] = [pose.positions[3 * p]!, pose.positions[3 * p + 1]!, pose.positions[3 * p + 2]!];
      let least = BARE;
      for (let c = 0; c < nodes.length; c++) {
        const b = 6 * c;
        if (x < boxes[b]! || y < boxes[b + 1]! || z < boxes[b + 2]!) continue;
        if (x > boxes[b + 3]! || y > boxes[b + 4]! || z > boxes[b + 5]!) continue;
        measureTaperedCapsule(posed, 8 * c, x, y, z, hit);
        if (hit.distance < least) least = hit.distance;
      }
      if (least >= BARE) continue;
      now[p] = Math.min(1, 1 - least / BARE);
      covered[p] = covered[p]! + now[p]!;
      overhung[p] =
        overhung[p]! + Math.min(1, Math.max(0, (-least - FREE_DEPTH) / (MOST_DEPTH - FREE_DEPTH)));
    }
    // The bind pose comes first.
    atRest ??= now;
    for (let p = 0; p < count; p++)
      stray += (areas[p]! * Math.max(0, (atRest[p]! - now[p]! - LOOSE) / (1 - LOOSE))) / poses.length;
  }
  for (let p = 0; p < count; p++) {
    covered[p] = covered[p]! / poses.length;
    overhung[p] = overhung[p]! / poses.length;
  }
  return { covered, overhung, stray };
}

function toRoundShape(shape: BodyShape): RoundShape {
  return (isRoundBody(shape) ? shape : convertShape(shape, 'taperedCapsule')) as RoundShape;
}

/** Boxes of rows, with what is bare around them. [m, 6] */
function boundRows(rows: Float32Array): Float32Array {
  const boxes = new Float32Array((rows.length / 8) * 6);
  for (let c = 0; c < rows.length / 8; c++) {
    const o = 8 * c;
    const radius = Math.max(rows[o + 3]!, rows[o + 7]!) + BARE;
    for (let k = 0; k < 3; k++) {
      boxes[6 * c + k] = Math.min(rows[o + k]!, rows[o + 4 + k]!) - radius;
      boxes[6 * c + 3 + k] = Math.max(rows[o + k]!, rows[o + 4 + k]!) + radius;
    }
  }
  return boxes;
}
