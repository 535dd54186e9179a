import type { Clip, Track } from '../../core/rig/index.ts';
import { JOINT_INDEX, JOINTS } from '../figure/joints.ts';
import type { ClipRecipe } from './clips.ts';
import { solveFigurePose } from './figure-pose.ts';

export const KEY_RATE = 30;

/** Samples a recipe at 30 keys a second. Joints that never turn get no track; signs keep neighbouring keys close. */
export function bakeClip(recipe: ClipRecipe): Clip {
  const keyCount = Math.round(recipe.seconds * KEY_RATE) + 1;
  const times = Float32Array.from({ length: keyCount }, (_, key) => (key * recipe.seconds) / (keyCount - 1));
  const rotations = JOINTS.map(() => new Float32Array(4 * keyCount));
  const roots = new Float32Array(3 * keyCount);
  const hips = new Float32Array(3 * keyCount);
  for (let key = 0; key < keyCount; key++) {
    const pose = solveFigurePose(recipe.goalAt(times[key]!));
    roots.set(pose.rootPosition, 3 * key);
    hips.set(pose.hipsPosition, 3 * key);
    JOINTS.forEach((_, joint) => {
      const row = pose.rotations.subarray(4 * joint, 4 * joint + 4);
      const track = rotations[joint]!;
      const before = track.subarray(4 * (key - 1), 4 * key);
      const dot = key === 0 ? 1 : row.reduce((sum, value, k) => sum + value * before[k]!, 0);
      track.set(dot < 0 ? row.map((value) => -value) : row, 4 * key);
    });
  }
  const tracks: Track[] = [
    { node: JOINT_INDEX.get('root')!, path: 'translation', interpolation: 'LINEAR', times, values: roots },
    { node: JOINT_INDEX.get('hips')!, path: 'translation', interpolation: 'LINEAR', times, values: hips },
  ];
  rotations.forEach((values, node) => {
    const isStill = values.every((value, i) => Math.abs(value - (i % 4 === 3 ? 1 : 0)) < 1e-6);
    if (!isStill) tracks.push({ node, path: 'rotation', interpolation: 'LINEAR', times, values });
  });
  return { name: recipe.name, duration: times[keyCount - 1]!, tracks };
}
