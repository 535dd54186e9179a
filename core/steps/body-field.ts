import { SignedDistanceField } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { joinSections } from './join-sections.ts';

/** A point deeper than this (m) below the skin is on the other side of a limb, not sunk in. */
export const MOST_SUNK = 0.08;

/** Signed distance to the body in bind pose; null without one. */
export function createBodyField(
  character: Character,
  bodySections: readonly number[],
): SignedDistanceField | null {
  if (bodySections.length === 0) return null;
  const { positions, triangles } = joinSections(character, bodySections, 1, false);
  return new SignedDistanceField(positions, triangles);
}
