import { number } from 'yup';
import { buildNeighbours, type SignedDistanceField } from '../mesh/index.ts';
import { type Character, invertBind, type Section } from '../rig/index.ts';
import { createBodyField, MOST_SUNK } from './body-field.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { tellCentimetres } from './step-fields.ts';

const PASSES = 12;
/** Passes that hand moves on to neighbours before points are put at their distance once more. */
const SPREAD_PASSES = 8;

/**
 * Moves what lies in the body, or closer to it than an offset, out to the offset; what is around goes along smoothly.
 *
 * @param offset - Metres.
 * @throws {RangeError} Without a body.
 */
export function pushOut(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[],
  offset: number,
): Section {
  const section = character.sections[sectionIndex]!;
  const field = createBodyField(
    character,
    bodySections.filter((index) => index !== sectionIndex),
  );
  if (!field) throw new RangeError('there is no body to push the garment out of');
  const mesh = createSectionMesh(character, sectionIndex);
  const neighbours = buildNeighbours(mesh.table, mesh.pointCount);
  const moves = new Float32Array(3 * mesh.pointCount);
  for (let pass = 0; pass < PASSES; pass++) {
    if (!addMoves(mesh.pointPositions, moves, field, offset) && pass > 0) break;
    if (pass < SPREAD_PASSES) spreadMoves(moves, neighbours);
  }
  // Spreading gives way a little: the last word is the offset's.
  addMoves(mesh.pointPositions, moves, field, offset);
  const moved = mesh.pointPositions.map((value, i) => value + moves[i]!);
  const own = invertBind(character, section.skin, moved);
  const positions = section.positions.slice();
  mesh.pointOfVertex.forEach((point, vertex) => {
    const isStill = [0, 1, 2].every((k) => moves[3 * point + k] === 0);
    if (!isStill) positions.set(own.subarray(3 * point, 3 * point + 3), 3 * vertex);
  });
  return { ...section, positions };
}

/** Adds to each point's move what it lacks to the offset. @returns Whether any did. */
function addMoves(
  positions: Float32Array,
  moves: Float32Array,
  field: SignedDistanceField,
  offset: number,
): boolean {
  let isAny = false;
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [0, 1, 2].map((k) => positions[i + k]! + moves[i + k]!) as [number, number, number];
    const found = field.measure(x, y, z, MOST_SUNK);
    if (!found || found.distance >= offset - 1e-5) continue;
    const away = [x, y, z].map((value, k) => value - found.point[k]!);
    const length = Math.hypot(...away);
    if (length === 0) continue;
    const scale = (found.distance < 0 ? -1 : 1) / length;
    for (let k = 0; k < 3; k++)
      moves[i + k] = found.point[k]! + scale * away[k]! * offset - positions[i + k]!;
    isAny = true;
  }
  return isAny;
}

/** Each point's move half its own and half the mean of its neighbours'. */
function spreadMoves(moves: Float32Array, { start, list }: ReturnType<typeof buildNeighbours>): void {
  const before = moves.slice();
  for (let p = 0; p + 1 < start.length; p++) {
    const degree = start[p + 1]! - start[p]!;
    if (degree === 0) continue;
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let i = start[p]!; i < start[p + 1]!; i++) sum += before[3 * list[i]! + k]!;
      moves[3 * p + k] = 0.5 * before[3 * p + k]! + (0.5 * sum) / degree;
    }
  }
}

export const pushOutStep = defineStep({
  kind: 'pushOut',
  fields: { offset: number().required().min(0).max(0.2) },
  describe: ({ offset }) => `out of the body to ${tellCentimetres(offset)}`,
  apply: (context, { offset }) =>
    replaceOwn(context, pushOut(context.character, context.sectionIndex, context.listBody(), offset)),
});
