import { scaleShape } from '../../bodies/index.ts';
import type { Character } from '../../rig/index.ts';
import type { BodyRecord, RecordId } from '../records/index.ts';
import type { BodyOfFile, BodySetFile } from './body-set-format.ts';
import { measureBones } from './measure-bone.ts';

/** How a body of a file comes onto a character. */
export interface PlacedBody {
  name: string;
  /** Joint in the file, and the one that it comes onto; null when the character has none of that name. */
  joint: string;
  onto: string | null;
  /** By how much its sizes change, as the bone is longer or shorter. */
  scale: number;
  body: Omit<BodyRecord, 'id' | 'bodySetId'> | null;
}

/** Bones this much alike, as a ratio, are of one length: nothing is scaled. */
const SAME_LENGTH = 1e-6;

/**
 * The bodies of a file on the joints of a character: by the joint's name, or else by the name without case, marks and what stands before a
 * colon; each as much larger as its bone is longer. Nothing is added to a document.
 */
export function placeBodySet({ bodies }: BodySetFile, character: Character): PlacedBody[] {
  const bones = measureBones(character);
  const plainNames = new Map<string, string>();
  for (const name of bones.keys()) if (!plainNames.has(toPlain(name))) plainNames.set(toPlain(name), name);
  return bodies.map((body) => {
    const { name, joint, boneLength } = body;
    const onto = bones.has(joint) ? joint : (plainNames.get(toPlain(joint)) ?? null);
    if (onto === null) return { name, joint, onto, scale: 1, body: null };
    const own = bones.get(onto)!;
    const ratio = own > 0 && boneLength > 0 ? own / boneLength : 1;
    const scale = Math.abs(ratio - 1) < SAME_LENGTH ? 1 : ratio;
    return { name, joint, onto, scale, body: toRecord(body, onto, scale) };
  });
}

function toRecord(
  { name, joint, margin, group, shape }: BodyOfFile,
  jointName: string,
  scale: number,
): Omit<BodyRecord, 'id' | 'bodySetId'> {
  return {
    type: 'body',
    name: name === joint ? jointName : name,
    jointName,
    shape: scale === 1 ? shape : scaleShape(shape, scale),
    margin,
    group,
  };
}

function toPlain(name: string): string {
  return name
    .slice(name.lastIndexOf(':') + 1)
    .toLowerCase()
    .replace(/[^a-z0-9]/g, '');
}

/** Records of the bodies that found a joint. @param createId - Gives a new id at each call. */
export function toSetRecords(
  placed: readonly PlacedBody[],
  bodySetId: RecordId,
  createId: () => RecordId,
): BodyRecord[] {
  return placed.flatMap(({ body }) => (body ? [{ ...body, id: createId(), bodySetId }] : []));
}
