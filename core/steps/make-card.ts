import { number } from 'yup';
import type { Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { collectOuterSurface } from './collect-outer-surface.ts';
import { addSimSection, findStoodFor } from './sim-section.ts';
import { defineStep } from './step-definition.ts';
import { sectionsField } from './step-fields.ts';

const SWEEPS = 24;

/**
 * A flat strip of a few triangles through the middle of some sections, as long and as wide as they are: a stand-in to be
 * simulated for a small stiff piece that dangles.
 *
 * Along the two largest axes of the piece (eigenvectors of the covariance of its points); the end that is highest comes first.
 *
 * @param rows - Pairs of triangles along it, 1 or more.
 * @returns World space of the bind pose.
 */
export function makeCardSurface(
  character: Character,
  sectionIndices: readonly number[],
  rows: number,
): Surface {
  const { positions } = collectOuterSurface(character, sectionIndices);
  const count = positions.length / 3;
  const middle = [0, 1, 2].map((k) => {
    let sum = 0;
    for (let p = 0; p < count; p++) sum += positions[3 * p + k]!;
    return sum / count;
  });
  const [long, wide] = findAxes(positions, middle);
  const reach = (axis: readonly number[]): [number, number] => {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let p = 0; p < count; p++) {
      const at = axis.reduce((sum, value, k) => sum + value * (positions[3 * p + k]! - middle[k]!), 0);
      low = Math.min(low, at);
      high = Math.max(high, at);
    }
    return [low, high];
  };
  const [along, across] = [reach(long), reach(wide)];
  const strip: number[] = [];
  const triangles: number[] = [];
  for (let row = 0; row <= rows; row++) {
    const a = along[1] + (row / rows) * (along[0] - along[1]);
    for (const b of across) strip.push(...middle.map((m, k) => m + a * long[k]! + b * wide[k]!));
    const p = 2 * row;
    // Diagonals take turns, so that the strip has no side.
    if (row < rows) {
      const quad = row % 2 === 0 ? [0, 2, 1, 1, 2, 3] : [0, 3, 1, 0, 2, 3];
      triangles.push(...quad.map((corner) => p + corner));
    }
  }
  return { positions: Float32Array.from(strip), triangles: Uint32Array.from(triangles) };
}

/** Unit axes of largest and second largest spread; the first points up. Jacobi rotations of the 3 by 3 covariance. */
function findAxes(positions: Float32Array, middle: readonly number[]): [number[], number[]] {
  const spread = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => {
      let sum = 0;
      for (let p = 0; p < positions.length; p += 3)
        sum += (positions[p + i]! - middle[i]!) * (positions[p + j]! - middle[j]!);
      return sum;
    }),
  );
  const axes = [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? 1 : 0)));
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    const [i, j] = (
      [
        [0, 1],
        [1, 2],
        [0, 2],
      ] as const
    )[sweep % 3]!;
    const off = spread[i]![j]!;
    if (off === 0) continue;
    const angle = 0.5 * Math.atan2(2 * off, spread[j]![j]! - spread[i]![i]!);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    for (const row of [...spread, ...axes])
      [row[i], row[j]] = [c * row[i]! - s * row[j]!, s * row[i]! + c * row[j]!];
    const [p, q] = [spread[i]!.slice(), spread[j]!.slice()];
    for (let k = 0; k < 3; k++) {
      spread[i]![k] = c * p[k]! - s * q[k]!;
      spread[j]![k] = s * p[k]! + c * q[k]!;
    }
  }
  const ordered = [0, 1, 2].sort((p, q) => spread[q]![q]! - spread[p]![p]!);
  const [long, wide] = ordered.map((column) => axes.map((row) => row[column]!)) as [number[], number[]];
  return [long[1]! < 0 ? long.map((value) => -value) : long, wide];
}

/** A flat strip of a few triangles, to be simulated in the place of this section and more. */
export const makeCardStep = defineStep({
  kind: 'makeCard',
  fields: { rows: number().required().integer().min(1).max(20), others: sectionsField },
  isSimMesh: true,
  describe: ({ rows }) => `card of ${2 * rows} triangles`,
  others: ({ others }) => others,
  renameOthers: (act, rename) => ({ ...act, others: act.others.map(rename) }),
  apply: (context, { rows, others }) => {
    const sections = findStoodFor(context, others);
    return addSimSection(context.character, sections, makeCardSurface(context.character, sections, rows));
  },
});
