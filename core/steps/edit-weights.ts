import { weldPoints } from '../mesh/index.ts';
import { type Character, type Section, toDenseWeights, toSparseWeights } from '../rig/index.ts';

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

/** Weights of points as those of vertices. */
export function spreadWeights(
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

/** Names of the joints that a section's weights count. */
export function listJointNames(character: Character, sectionIndex: number): string[] {
  const { joints } = character.skins[character.sections[sectionIndex]!.skin]!;
  return Array.from(joints, (node) => character.skeleton.names[node]!);
}
