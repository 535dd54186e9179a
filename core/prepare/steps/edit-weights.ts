import { buildNeighbours, fillSmoothly, findInnerSide, pairShells, weldPoints } from '../../mesh/index.ts';
import {
  type Character,
  handOverWeights,
  type Section,
  smoothWeights,
  type TransferOptions,
  type TransferOutcome,
  toDenseWeights,
  toSparseWeights,
  transferFields,
} from '../../rig/index.ts';
import { createSectionMesh } from '../section-mesh.ts';

/** A change of weights: of the points of a section, [points, joints], made in place. */
type DenseEdit = (dense: Float32Array, jointCount: number) => void;

/** Changes the weights of a section point by point: vertices of one point always move alike. */
export function editWeights(
  character: Character,
  sectionIndex: number,
  edit: DenseEdit,
  limits: { influences?: number; least?: number } = {},
): Section {
  const section = character.sections[sectionIndex]!;
  const jointCount = character.skins[section.skin]!.joints.length;
  const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(section.positions);
  const ofVertices = toDenseWeights(section, jointCount);
  const dense = new Float32Array(pointCount * jointCount);
  vertexOfPoint.forEach((vertex, p) => {
    dense.set(ofVertices.subarray(vertex * jointCount, (vertex + 1) * jointCount), p * jointCount);
  });
  edit(dense, jointCount);
  return { ...section, ...spreadWeights(dense, jointCount, section, pointOfVertex, limits), isRigid: false };
}

function spreadWeights(
  dense: Float32Array,
  jointCount: number,
  section: Section,
  pointOfVertex: Uint32Array,
  { influences = section.influences, least = 0.002 }: { influences?: number; least?: number },
): Pick<Section, 'influences' | 'jointIndices' | 'jointWeights'> {
  const width = influences > 4 ? 8 : 4;
  const sparse = toSparseWeights(dense, jointCount, width, { most: influences, least });
  const jointIndices = new Uint16Array(width * pointOfVertex.length);
  const jointWeights = new Float32Array(width * pointOfVertex.length);
  pointOfVertex.forEach((point, vertex) => {
    jointIndices.set(sparse.jointIndices.subarray(width * point, width * (point + 1)), width * vertex);
    jointWeights.set(sparse.jointWeights.subarray(width * point, width * (point + 1)), width * vertex);
  });
  return { influences: width, jointIndices, jointWeights };
}

export interface WeightTransfer {
  section: Section;
  outcome: Omit<TransferOutcome, 'values'>;
}

/**
 * Skin weights of the body for a garment, see `transferFields`. The garment takes over the body's skin.
 *
 * @param bodySections - Sections of one skin that are the body.
 * @throws {RangeError} Without a body.
 */
export function transferWeights(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[],
  { influences = 4, ...options }: TransferOptions & { influences?: number } = {},
): WeightTransfer {
  const skinned = bodySections.filter(
    (index) => index !== sectionIndex && !character.sections[index]!.isRigid,
  );
  const skinIndex = character.sections[skinned[0] ?? -1]?.skin;
  if (skinIndex === undefined) throw new RangeError('there is no skinned body to take weights from');
  const jointCount = character.skins[skinIndex]!.joints.length;
  const body = joinSections(
    character,
    skinned.filter((index) => character.sections[index]!.skin === skinIndex),
    jointCount,
  );
  const mesh = createSectionMesh(character, sectionIndex);
  const isInner = findInnerSide(mesh);
  const outerFaces = listOuterFaces(mesh.faces, isInner);
  const { values, ...outcome } = transferFields(
    { positions: mesh.places, triangles: outerFaces },
    body,
    body.weights,
    jointCount,
    options,
  );
  // The inside faces the skin's other way; it moves with the outside that it lies behind, and rims between the two.
  const isKnown = new Uint8Array(mesh.pointCount);
  const reached = new Set(outerFaces);
  for (const point of reached) isKnown[point] = 1;
  const within = mesh.pointCount - reached.size;
  pairShells(mesh).forEach((partner, p) => {
    if (!isInner[p] || partner < 0) return;
    isKnown[p] = 1;
    values.copyWithin(p * jointCount, partner * jointCount, (partner + 1) * jointCount);
  });
  // Points of no outer face were transferred without a surface around them.
  isKnown.forEach((known, p) => {
    if (!known) values.fill(0, p * jointCount, (p + 1) * jointCount);
  });
  fillSmoothly({ positions: mesh.places, triangles: mesh.faces }, values, jointCount, isKnown);
  for (let i = 0; i < values.length; i++) values[i] = Math.max(0, values[i]!);
  const section = character.sections[sectionIndex]!;
  const weights = spreadWeights(values, jointCount, section, mesh.pointOfVertex, { influences });
  return {
    section: { ...section, ...weights, skin: skinIndex, isRigid: false },
    outcome: { ...outcome, filled: outcome.filled + within, farOff: outcome.farOff - within },
  };
}

function listOuterFaces(faces: Uint32Array, isInner: Uint8Array): Uint32Array {
  return faces.filter((_, i) => {
    const f = i - (i % 3);
    return !isInner[faces[f]!] && !isInner[faces[f + 1]!] && !isInner[faces[f + 2]!];
  });
}

/** Bind places, triangles and (when asked for) weights of several sections of one skin as one surface. */
export function joinSections(
  character: Character,
  sectionIndices: readonly number[],
  jointCount: number,
  hasWeights = true,
): { positions: Float32Array; triangles: Uint32Array; weights: Float32Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  const weights: number[] = [];
  for (const index of sectionIndices) {
    const section = character.sections[index]!;
    const { places, faces, vertexOfPoint } = createSectionMesh(character, index);
    const offset = positions.length / 3;
    const dense = hasWeights ? toDenseWeights(section, jointCount) : null;
    for (const value of places) positions.push(value);
    for (const corner of faces) triangles.push(corner + offset);
    for (const vertex of dense ? vertexOfPoint : []) {
      for (let j = 0; j < jointCount; j++) weights.push(dense![jointCount * vertex + j]!);
    }
  }
  return {
    positions: Float32Array.from(positions),
    triangles: Uint32Array.from(triangles),
    weights: Float32Array.from(weights),
  };
}

/** Names of the joints that a section's weights count. */
export function listJointNames(character: Character, sectionIndex: number): string[] {
  const { joints } = character.skins[character.sections[sectionIndex]!.skin]!;
  return Array.from(joints, (node) => character.skeleton.names[node]!);
}

/**
 * Locked joints keep their weight, all others give theirs to one.
 * @throws {RangeError} When the skin has no joint of a name.
 */
export function handOver(
  character: Character,
  sectionIndex: number,
  keptJoints: readonly string[],
  toJoint: string,
): Section {
  const section = character.sections[sectionIndex]!;
  const names = listJointNames(character, sectionIndex);
  const find = (name: string): number => {
    const joint = names.indexOf(name);
    if (joint < 0) throw new RangeError(`the skin of "${section.name}" has no joint "${name}"`);
    return joint;
  };
  const [locked, to] = [new Set(keptJoints.map(find)), find(toJoint)];
  return editWeights(character, sectionIndex, (dense, jointCount) =>
    handOverWeights(dense, jointCount, locked, to),
  );
}

export function smoothSectionWeights(
  character: Character,
  sectionIndex: number,
  strength: number,
  times: number,
): Section {
  const { table, pointCount } = createSectionMesh(character, sectionIndex);
  const neighbours = buildNeighbours(table, pointCount);
  return editWeights(character, sectionIndex, (dense, jointCount) =>
    smoothWeights(dense, jointCount, neighbours, new Float32Array(pointCount).fill(strength), times),
  );
}

export function limitSectionWeights(
  character: Character,
  sectionIndex: number,
  influences: number,
  least: number,
): Section {
  return editWeights(character, sectionIndex, () => {}, { influences, least });
}
