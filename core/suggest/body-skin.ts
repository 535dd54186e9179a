import { computeVertexNormals } from '../mesh/index.ts';
import { type Character, SIDE_PAIRS, type SidePair } from '../rig/index.ts';
import { CharacterRun, type RunSetup } from '../run/index.ts';
import { EVERYWHERE, PosedSkin, type SkinModel } from '../trials/index.ts';

/** The skin of a character in bind pose and over its clips, for bodies to be fitted to and judged by. */
export interface BodySkin {
  character: Character;
  model: SkinModel;
  /** Places and normals in bind pose, world, [n, 3] each. */
  positions: Float32Array;
  normals: Float32Array;
  /** Share of the skin that each point stands for, m²; 0 of what lies inside another part. [n] */
  areas: Float32Array;
  /** Node that moves each point most. [n] */
  joints: Int32Array;
  /** What marks the sides in joint names. */
  sidePairs: readonly SidePair[];
  /** Poses that stand for the clips, the bind pose first. */
  poses: SkinPose[];
}

export interface SkinPose {
  /** Index of the clip, null for the bind pose, and seconds into it. */
  clip: number | null;
  time: number;
  /** World matrices of all nodes, [nodes, 16]. */
  matrices: Float64Array;
  /** [n, 3] world. */
  positions: Float32Array;
  /** Skinned places of the garments' points, [points, 4] each. */
  targets: Float32Array[];
}

/** Poses that stand for a clip: one in so many seconds, between these numbers. */
const POSE_SECONDS = 0.35;
const FEWEST_POSES = 4;
const MOST_POSES = 10;

/**
 * Gathers the skin of a set-up in bind pose and in poses spread evenly over clips.
 * @param clips - Indices; with none the bind pose stands alone.
 */
export function gatherBodySkin(
  setup: RunSetup,
  clips: readonly number[],
  sidePairs: readonly SidePair[] = SIDE_PAIRS,
): BodySkin {
  const { character, bodySections } = setup;
  const run = new CharacterRun(character, setup.garments);
  const skin = new PosedSkin(character, bodySections);
  const take = (clip: number | null, time: number): SkinPose => {
    run.play(clip, time);
    skin.follow(run.pose, run.skinMatrices, EVERYWHERE);
    return {
      clip,
      time,
      matrices: run.pose.worldMatrices.slice(),
      positions: skin.positions.slice(),
      targets: run.garments.map(({ targets }) => targets.slice()),
    };
  };
  const bind = take(null, 0);
  const { model } = skin;
  const poses = [bind];
  for (const clip of clips) {
    run.play(clip);
    const { duration } = run;
    const count = Math.min(MOST_POSES, Math.max(FEWEST_POSES, Math.ceil(duration / POSE_SECONDS)));
    for (let i = 0; i < count; i++) poses.push(take(clip, ((i + 0.5) / count) * duration));
  }
  return {
    character,
    model,
    positions: bind.positions,
    normals: computeVertexNormals(bind.positions, model.triangles, new Float32Array(bind.positions.length)),
    areas: model.areas.map((area, p) => (model.isBuried[p] ? 0 : area)),
    joints: findJoints(character, model),
    sidePairs,
    poses,
  };
}

/** Of each point the joint with the largest weight, of all its vertices together. */
function findJoints(character: Character, { sections, pointCount, vertices, shares }: SkinModel): Int32Array {
  const starts: number[] = [];
  let count = 0;
  for (const section of sections) {
    starts.push(count);
    count += section.positions.length / 3;
  }
  const joints = new Int32Array(pointCount).fill(-1);
  for (let p = 0; p < pointCount; p++) {
    const weights = new Map<number, number>();
    for (let k = 3 * p; k < 3 * p + 3; k++) {
      const s = starts.findLastIndex((start) => start <= vertices[k]!);
      const { jointIndices, jointWeights, influences, skin } = sections[s]!;
      const nodes = character.skins[skin]!.joints;
      const first = influences * (vertices[k]! - starts[s]!);
      for (let j = first; j < first + influences; j++) {
        const node = nodes[jointIndices[j]!]!;
        weights.set(node, (weights.get(node) ?? 0) + shares[k]! * jointWeights[j]!);
      }
    }
    let most = 0;
    for (const [node, weight] of weights) {
      if (weight <= most) continue;
      most = weight;
      joints[p] = node;
    }
  }
  return joints;
}
