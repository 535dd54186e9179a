import { getShapeDefinition, mirrorBody } from '../bodies/index.ts';
import { distanceBetween, type MutableVector3 } from '../math/index.ts';
import { type Character, Pose } from '../rig/index.ts';
import { type AuthoredDocument, getScene, listBodies } from './document.ts';
import type { BodyRecord, RecordId } from './records/index.ts';

/** A body is the image of another when its middle is so near to where that would be, m. */
const NEAR = 0.04;

export interface MirroredBody {
  from: BodyRecord;
  /** As it is to be: one that is there, made alike, or a new one. */
  to: BodyRecord;
  isNew: boolean;
}

/**
 * What bodies become on the other side: onto the joint of the other name, or, on a joint without a side, onto that joint itself. A body that
 * is about there already is made alike; else there is a new one. Nothing is changed.
 *
 * @param createId - Gives a new id at each call.
 */
export function mirrorBodies(
  document: Pick<AuthoredDocument, 'records'>,
  character: Character,
  bodies: readonly BodyRecord[],
  createId: () => RecordId,
): MirroredBody[] {
  const { names } = character.skeleton;
  const { sidePairs } = getScene(document);
  const pose = new Pose(character);
  pose.setBind();
  const taken = new Set<RecordId>();
  const mirrored: MirroredBody[] = [];
  for (const from of bodies) {
    // The image of one before it, when both sides are mirrored at once.
    if (taken.has(from.id)) continue;
    const node = names.indexOf(from.jointName);
    const image = node < 0 ? null : mirrorBody(character, pose, { ...from.shape, node }, sidePairs);
    if (!image) continue;
    const { node: otherNode, ...shape } = image;
    const jointName = names[otherNode]!;
    const there = listBodies(document, from.bodySetId)
      .filter((body) => body.jointName === jointName && !taken.has(body.id))
      .map((body) => ({ body, away: distanceBetween(findMiddle(body), findMiddle({ shape })) }))
      .sort((p, q) => p.away - q.away);
    // The other side has one of its own: that it is, wherever it stands. In the middle it may be the body itself.
    const isAlone = otherNode !== node && there.length === 1;
    const [nearest] = there;
    const found = nearest && (isAlone || nearest.away <= NEAR) ? nearest.body : null;
    const { margin, group } = from;
    const name = from.name === from.jointName ? jointName : from.name;
    const to = found
      ? { ...found, shape, margin, group }
      : { ...from, id: createId(), name, jointName, shape };
    taken.add(to.id);
    mirrored.push({ from, to, isNew: !found });
  }
  return mirrored;
}

function findMiddle({ shape }: Pick<BodyRecord, 'shape'>): MutableVector3 {
  const places = getShapeDefinition(shape).sample(shape);
  const middle: MutableVector3 = [0, 0, 0];
  for (let i = 0; i < places.length; i++) middle[i % 3] = middle[i % 3]! + (3 * places[i]!) / places.length;
  return middle;
}
