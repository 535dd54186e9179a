import { createShapeMap, getShapeDefinition } from '../bodies/index.ts';
import { type AuthoredDocument, type BodyRecord, listRecords } from '../document/index.ts';
import { invertAffine, multiplyMatrices } from '../math/index.ts';
import { type Character, Pose } from '../rig/index.ts';

/** A body whose joint is not there any more. */
export interface BodyReview {
  name: string;
  joint: string;
  /** Joint that it goes over to, since its own is not there. */
  to: string;
}

/** Bodies onto the joints of the same name; one whose joint is gone goes to the nearest joint above, in its place. */
export function transferBodies(from: Character, to: Character, transferred: AuthoredDocument): BodyReview[] {
  const moved: BodyReview[] = [];
  const [was, is] = [from, to].map((character) => {
    const pose = new Pose(character);
    pose.setBind();
    return pose.worldMatrices;
  });
  for (const body of listRecords(transferred, 'body')) {
    if (to.skeleton.names.includes(body.jointName)) continue;
    const lost = from.skeleton.names.indexOf(body.jointName);
    const node = findJointAbove(from, to, lost);
    const jointName = to.skeleton.names[node]!;
    moved.push({ name: body.name, joint: body.jointName, to: jointName });
    transferred.records.set(body.id, moveBody(body, [was!, lost], [is!, node], jointName));
  }
  return moved;
}

function findJointAbove(from: Character, to: Character, node: number): number {
  let above = from.skeleton.parents[node] ?? -1;
  while (above >= 0) {
    const found = to.skeleton.names.indexOf(from.skeleton.names[above]!);
    if (found >= 0) return found;
    above = from.skeleton.parents[above]!;
  }
  return to.skins[0]?.joints[0] ?? 0;
}

function moveBody(
  body: BodyRecord,
  [was, from]: [matrices: Float64Array, node: number],
  [is, to]: [matrices: Float64Array, node: number],
  jointName: string,
): BodyRecord {
  const inverse = new Float64Array(16);
  const displacement = new Float64Array(16);
  if (from < 0 || !invertAffine(inverse, 0, is, 16 * to)) return { ...body, jointName };
  multiplyMatrices(displacement, 0, inverse, 0, was, 16 * from);
  const shape = getShapeDefinition(body.shape).carry(body.shape, createShapeMap(displacement));
  return { ...body, jointName, shape };
}
