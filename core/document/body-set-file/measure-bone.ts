import { type Character, Pose } from '../../rig/index.ts';

/** Shorter than this, m, is no bone. */
const LEAST_LENGTH = 1e-4;

/**
 * How long the bone of a joint is in bind pose, m: to its joints below on the mean, or without any from the joint above.
 * @returns By joint name; 0 of a joint alone.
 */
export function measureBones(character: Character): Map<string, number> {
  const { names, parents } = character.skeleton;
  const pose = new Pose(character);
  pose.setBind();
  const { worldMatrices: m } = pose;
  const distance = (p: number, q: number): number => {
    const [x, y, z] = [12, 13, 14].map((k) => m[16 * p + k]! - m[16 * q + k]!) as [number, number, number];
    return Math.sqrt(x * x + y * y + z * z);
  };
  const joints = new Set(character.skins.flatMap((skin) => [...skin.joints]));
  const lengths = new Map<string, number>();
  for (const node of joints) {
    const below = [...joints].filter((other) => parents[other] === node);
    const ways = below.map((other) => distance(node, other)).filter((length) => length > LEAST_LENGTH);
    const above = parents[node]!;
    const own = ways.length > 0 ? ways.reduce((sum, length) => sum + length, 0) / ways.length : 0;
    lengths.set(names[node]!, own || (above >= 0 && joints.has(above) ? distance(node, above) : 0));
  }
  return lengths;
}
