import { boundPlaces } from '../math/index.ts';
import type { Character } from './character.ts';
import { Pose } from './pose.ts';
import { poseSection } from './pose-section.ts';

/** How large a character is and where it stands, m: everything that is drawn around it goes by this. */
export interface FigureSize {
  /** Middle of its bounding box. */
  middle: [number, number, number];
  /** Longest side of the box; 1 of nothing. */
  size: number;
  width: number;
  height: number;
  depth: number;
  /** Its lowest place. */
  lowest: number;
}

/** Of a grown figure, m: what is set for it holds for others in proportion. */
export const USUAL_SIZE = 1.83;

/** The character's box in the world, over all that is drawn. @param pose - Without it the bind pose. */
export function measureFigure(character: Character, pose = createBindPose(character)): FigureSize {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  character.sections.forEach((section, index) => {
    if (section.isSimMesh) return;
    const box = boundPlaces(poseSection(character, index, pose));
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k]!, box.low[k]!);
      high[k] = Math.max(high[k]!, box.high[k]!);
    }
  });
  if (!low.every(Number.isFinite))
    return { middle: [0, 0.5, 0], size: 1, width: 1, height: 1, depth: 1, lowest: 0 };
  const [width, height, depth] = [0, 1, 2].map((k) => high[k]! - low[k]!) as [number, number, number];
  return {
    middle: [0, 1, 2].map((k) => (low[k]! + high[k]!) / 2) as [number, number, number],
    size: Math.max(width, height, depth) || 1,
    width,
    height,
    depth,
    lowest: low[1]!,
  };
}

function createBindPose(character: Character): Pose {
  const pose = new Pose(character);
  pose.setBind();
  return pose;
}
