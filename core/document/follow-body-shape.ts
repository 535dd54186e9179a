import { type BodyShape, moveWithSkin } from '../bodies/index.ts';
import { concatenate, invertAffine, transformPoint } from '../math/index.ts';
import { bindSection, type Character, Pose } from '../rig/index.ts';
import { listBodySections } from './body-sections.ts';
import type { AuthoredDocument } from './document.ts';
import { fitToSkin } from './fit-to-skin.ts';
import type { BodyFollows, BodyRecord } from './records/index.ts';

/** A character as bodies were made for it, and in the body shape that it has: the very same one without. */
export interface ShapedCharacter {
  base: Character;
  shaped: Character;
}

/** The skin in bind pose without a body shape and with it, world space. [n, 3] m each */
interface SkinMove {
  before: Float32Array;
  after: Float32Array;
}

const moves = new WeakMap<Character, WeakMap<Character, SkinMove | null>>();

/**
 * A body as it is on a character of another body shape: moved with the skin around it, fitted anew to the skin of its joint (or moved where
 * nothing can be fitted), or as it is.
 *
 * @param base - The character as the bodies were made for it. @param shaped - The same in another shape, see `shapeCharacter`.
 * @param follows - See `BodySetRecord`.
 */
export function followBodyShape(
  document: Pick<AuthoredDocument, 'records'>,
  body: BodyRecord,
  { base, shaped, follows }: ShapedCharacter & { follows: BodyFollows },
): BodyShape {
  if (base === shaped || follows === 'nothing') return body.shape;
  const move = findMove(document, base, shaped);
  if (!move) return body.shape;
  if (follows === 'fit') {
    try {
      return fitToSkin(document, shaped, body);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
  const node = base.skeleton.names.indexOf(body.jointName);
  const pose = new Pose(base);
  pose.setBind();
  const inverse = new Float64Array(16);
  if (node < 0 || !invertAffine(inverse, 0, pose.worldMatrices, 16 * node)) return body.shape;
  return moveWithSkin(body.shape, body.margin, carry(move.before, inverse), carry(move.after, inverse));
}

/** Null when the skin is the same. */
function findMove(
  document: Pick<AuthoredDocument, 'records'>,
  base: Character,
  shaped: Character,
): SkinMove | null {
  const known = moves.get(base)?.get(shaped);
  if (known !== undefined) return known;
  const sections = listBodySections(document, base);
  const [before, after] = [base, shaped].map((character) =>
    concatenate(sections.map((index) => bindSection(character, index))),
  );
  const isSame = before!.every((value, i) => value === after![i]);
  const move = isSame ? null : { before: before!, after: after! };
  if (!moves.has(base)) moves.set(base, new WeakMap());
  moves.get(base)!.set(shaped, move);
  return move;
}

function carry(positions: Float32Array, matrix: Float64Array): Float32Array {
  const carried = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i += 3)
    transformPoint(carried, i, matrix, 0, positions[i]!, positions[i + 1]!, positions[i + 2]!);
  return carried;
}
