import type { Primitive } from '@gltf-transform/core';
import type { Section } from '../../core/rig/index.ts';
import { IntakeError } from '../intake-error.ts';
import { readAccessor } from './read-accessor.ts';
import type { RepairLog } from './repair-log.ts';

/** A row of weights whose sum differs from one by less than this is left as it is (16-bit weights do). */
const SUM_TOLERANCE = 1e-4;
const MOST_INFLUENCES = 8;

/**
 * Joint numbers and weights of a skinned primitive: 4 per vertex, or 8 when a second set is in use. Rows are made
 * to sum to one; of more than eight influences the largest stay.
 *
 * @param jointCount - Of the skin. @throws {IntakeError} for a joint number beyond it.
 */
export function readWeights(
  primitive: Primitive,
  jointCount: number,
  file: string,
  where: string,
  log: RepairLog,
): Pick<Section, 'influences' | 'jointIndices' | 'jointWeights' | 'unweighted'> {
  const vertexCount = primitive.getAttribute('POSITION')!.getCount();
  const sets: { joints: ArrayLike<number>; weights: Float32Array }[] = [];
  for (let set = 0; ; set++) {
    const joints = primitive.getAttribute(`JOINTS_${set}`);
    const weights = primitive.getAttribute(`WEIGHTS_${set}`);
    if (!joints || !weights) break;
    sets.push({ joints: joints.getArray()!, weights: readAccessor(weights) });
  }
  const used = sets.filter((set, index) => index === 0 || set.weights.some((weight) => weight !== 0));
  const influences = used.length > 1 ? MOST_INFLUENCES : 4;
  const jointIndices = new Uint16Array(influences * vertexCount);
  const jointWeights = new Float32Array(influences * vertexCount);
  const counts = { renormalised: 0, empty: 0, broken: 0 };
  const unweighted = new Uint16Array(vertexCount);
  for (let v = 0; v < vertexCount; v++) {
    const row = gatherRow(used, v, counts);
    for (const { joint } of row) {
      if (joint >= jointCount) {
        throw new IntakeError(
          'index-out-of-range',
          file,
          `${where}, vertex ${v}`,
          `It is weighted to joint ${joint}; the skin has ${jointCount}.`,
          'Bind the mesh again and export.',
        );
      }
    }
    const emptyBefore = counts.empty;
    writeRow(row.slice(0, influences), influences * v, jointIndices, jointWeights, counts);
    unweighted[v] = counts.empty - emptyBefore;
  }
  if (used.length > 2)
    log.repair('influences', where, `Up to ${4 * used.length} influences a vertex; the largest 8 are kept.`);
  if (counts.renormalised > 0)
    log.repair(
      'weight-sum',
      where,
      `The weights of ${counts.renormalised} vertices did not sum to one and were scaled.`,
    );
  if (counts.empty > 0)
    log.repair(
      'no-weights',
      where,
      `${counts.empty} vertices had no weights and follow the skin's first joint.`,
    );
  if (counts.broken > 0)
    log.repair(
      'bad-weights',
      where,
      `${counts.broken} weights were negative or not numbers and count as zero.`,
    );
  return { influences, jointIndices, jointWeights, ...(counts.empty > 0 && { unweighted }) };
}

interface Influence {
  joint: number;
  weight: number;
}

/** The influences of a vertex in file order; sorted by weight only when some must go. */
function gatherRow(
  sets: { joints: ArrayLike<number>; weights: Float32Array }[],
  vertex: number,
  counts: { broken: number },
): Influence[] {
  const row: Influence[] = [];
  for (const { joints, weights } of sets) {
    for (let k = 4 * vertex; k < 4 * vertex + 4; k++) {
      let weight = weights[k]!;
      if (!(weight >= 0) || weight === Number.POSITIVE_INFINITY) {
        counts.broken++;
        weight = 0;
      }
      // A joint number without weight means nothing, and may be anything.
      row.push(weight === 0 ? { joint: 0, weight: 0 } : { joint: joints[k]!, weight });
    }
  }
  if (row.length > MOST_INFLUENCES) row.sort((p, q) => q.weight - p.weight);
  return row;
}

function writeRow(
  row: Influence[],
  o: number,
  jointIndices: Uint16Array,
  jointWeights: Float32Array,
  counts: { renormalised: number; empty: number },
): void {
  const sum = row.reduce((total, { weight }) => total + weight, 0);
  if (sum === 0) {
    counts.empty++;
    jointWeights[o] = 1;
    return;
  }
  const scale = Math.abs(sum - 1) > SUM_TOLERANCE ? 1 / sum : 1;
  if (scale !== 1) counts.renormalised++;
  row.forEach(({ joint, weight }, k) => {
    jointIndices[o + k] = joint;
    jointWeights[o + k] = weight * scale;
  });
}
