import type { CompiledGarment } from '../cloth/index.ts';
import { percentile } from '../math/index.ts';
import {
  bindSection,
  type Character,
  computeSkinMatrices,
  Pose,
  poseSection,
  skinPoints,
} from '../rig/index.ts';
import { createBoundPositions, type RenderBinding, writeBound } from './render-binding.ts';

export interface BindingError {
  /** Greatest distance of a vertex from its place in bind pose, m. */
  inBindPose: number;
  /**
   * Distance, m, between where the sim mesh carries a vertex and where its own skin weights would, over the clip with
   * nothing simulated: what 95 % of the vertices stay below, and the greatest. 0 without a clip.
   */
  p95: number;
  worst: number;
}

/** Looks a second at the clip. */
const LOOKS = 10;

/** How well a drawn section follows its sim mesh. @param clip - Index, or null for the bind pose alone. */
export function measureBinding(
  character: Character,
  garment: CompiledGarment,
  binding: RenderBinding,
  clip: number | null,
): BindingError {
  const skin = character.skins[garment.skinned.skin]!;
  const x = new Float32Array(4 * garment.pointCount);
  const out = new Float32Array(3 * binding.vertexCount);
  const normals = new Float32Array(out.length);
  const scratch = createBoundPositions(binding, garment.triangles.length / 3);
  const pose = new Pose(character);
  const transfer = (): void => {
    const matrices = computeSkinMatrices(skin, pose.worldMatrices, new Float32Array(16 * skin.joints.length));
    skinPoints(garment.skinned, matrices, x, 4);
    writeBound(binding, x, garment.triangles, scratch, out, normals);
  };
  pose.setBind();
  transfer();
  let inBindPose = 0;
  for (const distance of measureApart(out, bindSection(character, binding.sectionIndex))) {
    inBindPose = Math.max(inBindPose, distance);
  }
  if (clip === null) return { inBindPose, p95: 0, worst: 0 };
  const { duration } = character.clips[clip]!;
  const distances: number[] = [];
  for (let look = 0; look <= Math.ceil(LOOKS * duration); look++) {
    pose.setClip(character.clips[clip]!, Math.min(duration, look / LOOKS));
    transfer();
    for (const distance of measureApart(out, poseSection(character, binding.sectionIndex, pose)))
      distances.push(distance);
  }
  return {
    inBindPose,
    p95: percentile(distances, 0.95),
    worst: percentile(distances, 1),
  };
}

function* measureApart(p: Float32Array, q: Float32Array): Generator<number> {
  for (let i = 0; i < p.length; i += 3) {
    yield Math.sqrt((p[i]! - q[i]!) ** 2 + (p[i + 1]! - q[i + 1]!) ** 2 + (p[i + 2]! - q[i + 2]!) ** 2);
  }
}
