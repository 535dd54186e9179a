import { number } from 'yup';
import { findPrincipalAxes, measureExtent, type Vector3 } from '../math/index.ts';
import type { Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { collectOuterSurface } from './collect-outer-surface.ts';
import { addSimSection, findStoodFor } from './sim-section.ts';
import { defineStep } from './step-definition.ts';
import { sectionsField } from './step-fields.ts';

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
  const { middle, axes } = findPrincipalAxes(positions);
  const [[x, y, z], wide] = axes;
  const long: Vector3 = y < 0 ? [-x, -y, -z] : axes[0];
  const [along, across] = [measureExtent(positions, middle, long), measureExtent(positions, middle, wide)];
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
