import { type MutableVector3, sampleTriangle, TRIANGLE_SAMPLES, type Vector3 } from '../math/index.ts';
import { bindSection, type Character, findSection } from '../rig/index.ts';
import { fitToPlaces } from './fit-to-skin.ts';
import { BODY_DEFAULTS, type BodyMeshRecord, type BodyRecord, type RecordId } from './records/index.ts';

/** A joint with fewer triangles has no capsule of its own. */
const LEAST_TRIANGLES = 6;

/**
 * Tapered capsules in the place of a mesh: for each joint the one that fits best what it moves most of the mesh. Nothing is changed.
 *
 * @param createId - Gives a new id at each call.
 * @throws {RangeError} When the character lacks its section.
 */
export function capsulesOfMesh(
  character: Character,
  mesh: BodyMeshRecord,
  createId: () => RecordId,
): BodyRecord[] {
  const index = findSection(character, mesh);
  if (index < 0) throw new RangeError(`there is no section "${mesh.sectionName}"`);
  const { bodySetId, margin, group } = mesh;
  return [...groupByJoint(character, index)]
    .filter(([, places]) => places.length >= 3 * TRIANGLE_SAMPLES * LEAST_TRIANGLES)
    .map(([node, places]) => {
      const jointName = character.skeleton.names[node]!;
      const shape = fitToPlaces(
        character,
        { jointName, shape: { kind: 'taperedCapsule', a: [0, 0, 0], b: [0, 0, 0], radiusA: 1, radiusB: 1 } },
        Float32Array.from(places),
      );
      return {
        type: 'body',
        id: createId(),
        bodySetId,
        name: jointName,
        jointName,
        shape,
        ...BODY_DEFAULTS,
        margin,
        group,
      };
    });
}

/** Places in bind pose all over the triangles that each node moves most, xyz after xyz, by nodes. */
function groupByJoint(character: Character, index: number): Map<number, number[]> {
  const section = character.sections[index]!;
  const { joints } = character.skins[section.skin]!;
  const positions = bindSection(character, index);
  const groups = new Map<number, number[]>();
  for (let t = 0; t < section.triangles.length; t += 3) {
    const corners = [...section.triangles.subarray(t, t + 3)];
    const shares = new Map<number, number>();
    for (const vertex of corners) {
      for (let i = section.influences * vertex; i < section.influences * (vertex + 1); i++) {
        const node = joints[section.jointIndices[i]!]!;
        shares.set(node, (shares.get(node) ?? 0) + section.jointWeights[i]!);
      }
    }
    const [node] = [...shares].reduce((most, own) => (own[1] > most[1] ? own : most));
    if (!groups.has(node)) groups.set(node, []);
    const corner = (k: number): Vector3 =>
      [...positions.subarray(3 * corners[k]!, 3 * corners[k]! + 3)] as MutableVector3;
    sampleTriangle([corner(0), corner(1), corner(2)], groups.get(node)!);
  }
  return new Map([...groups].sort(([p], [q]) => p - q));
}
