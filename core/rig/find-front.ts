import type { Character } from './character.ts';
import { type FigureSize, measureFigure } from './measure-figure.ts';
import { Pose } from './pose.ts';

/** Joints of feet lie below this share of the height. */
const FOOT_SHARE = 0.14;
/** Feet that reach less far than this share of the height say nothing. */
const LEAST_SHARE = 0.015;

/**
 * Where a character faces in bind pose, degrees about the vertical: 0 is +Z, 90 is +X; to the nearest quarter. Feet tell it: from ankle to toes.
 * Ours.
 *
 * @returns Null for what has no feet, or feet that point every way.
 */
export function findFront(
  character: Character,
  figure: FigureSize = measureFigure(character),
): number | null {
  const { skeleton, skins } = character;
  const pose = new Pose(character);
  pose.setBind();
  const joints = new Set(skins.flatMap((skin) => [...skin.joints]));
  const place = (joint: number): [number, number, number] =>
    [12, 13, 14].map((k) => pose.worldMatrices[16 * joint + k]!) as [number, number, number];
  const top = figure.lowest + FOOT_SHARE * figure.height;
  let [x, z] = [0, 0];
  for (const joint of joints) {
    const above = skeleton.parents[joint]!;
    if (!joints.has(above)) continue;
    const [from, to] = [place(above), place(joint)];
    if (from[1] > top || to[1] > top || to[1] > from[1]) continue;
    x += to[0] - from[0];
    z += to[2] - from[2];
  }
  if (Math.hypot(x, z) < LEAST_SHARE * figure.height) return null;
  const quarter = Math.round(Math.atan2(x, z) / (Math.PI / 2));
  return (90 * quarter + 360) % 360;
}
