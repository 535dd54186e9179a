import type { Character, Clip } from './character.ts';
import { Pose } from './pose.ts';

/** Net horizontal way shorter than this (metres) is sway, not travel. */
const LEAST_TRAVEL = 0.05;

/**
 * How far a clip carries the character over the ground from its first to its last frame: [x, z] metres, zero
 * when it stays in place. Measured on the topmost joint that moves.
 *
 * The live run takes this travel out evenly over the clip, so that the character stays in view and a loop
 * closes; in a steadily moving frame the physics of the cloth is the same.
 */
export function computeClipTravel(character: Character, clip: Clip): [number, number] {
  const pose = new Pose(character);
  const moving = new Set(
    clip.tracks.filter((track) => track.path === 'translation').map((track) => track.node),
  );
  const { parents } = character.skeleton;
  let leader = -1;
  for (let node = 0; node < parents.length && leader < 0; node++) if (moving.has(node)) leader = node;
  if (leader < 0) return [0, 0];
  // The deepest joint of a straight line of moving joints carries the sum of their ways.
  for (let node = leader + 1; node < parents.length; node++) {
    if (parents[node] === leader && moving.has(node)) leader = node;
  }
  pose.setClip(clip, 0);
  const x = pose.worldMatrices[16 * leader + 12]!;
  const z = pose.worldMatrices[16 * leader + 14]!;
  pose.setClip(clip, clip.duration);
  const dx = pose.worldMatrices[16 * leader + 12]! - x;
  const dz = pose.worldMatrices[16 * leader + 14]! - z;
  return Math.sqrt(dx * dx + dz * dz) < LEAST_TRAVEL ? [0, 0] : [dx, dz];
}
