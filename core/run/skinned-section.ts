import { computeVertexNormals, weldPoints, weldTriangles } from '../mesh/index.ts';
import { applyMorphs, type Section, skinPoints } from '../rig/index.ts';

/** A section as its own skin weights move it, with normals over its welded vertices, to be written frame by frame. */
export class SkinnedSection {
  readonly section: Section;
  readonly #pointOfVertex: Uint32Array;
  readonly #vertexOfPoint: Uint32Array;
  readonly #triangles: Uint32Array;
  readonly #morphed: Float32Array;
  readonly #points: Float32Array;
  readonly #normals: Float32Array;

  constructor(section: Section) {
    const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(section.positions);
    this.section = section;
    this.#pointOfVertex = pointOfVertex;
    this.#vertexOfPoint = vertexOfPoint;
    this.#triangles = weldTriangles(section.triangles, pointOfVertex);
    this.#morphed = new Float32Array(section.positions.length);
    this.#points = new Float32Array(3 * pointCount);
    this.#normals = new Float32Array(3 * pointCount);
  }

  /**
   * @param skinMatrices - Of the section's skin. @param morphWeights - [morphs].
   * @param outPositions, outNormals - [vertices, 3], world space.
   */
  write(
    skinMatrices: Float32Array,
    morphWeights: ArrayLike<number>,
    outPositions: Float32Array,
    outNormals: Float32Array,
  ): void {
    const { section } = this;
    const positions =
      section.morphs.length > 0 ? applyMorphs(section, morphWeights, this.#morphed) : section.positions;
    skinPoints({ ...section, positions }, skinMatrices, outPositions);
    this.#vertexOfPoint.forEach((vertex, p) => {
      for (let k = 0; k < 3; k++) this.#points[3 * p + k] = outPositions[3 * vertex + k]!;
    });
    computeVertexNormals(this.#points, this.#triangles, this.#normals);
    this.#pointOfVertex.forEach((point, v) => {
      for (let k = 0; k < 3; k++) outNormals[3 * v + k] = this.#normals[3 * point + k]!;
    });
  }
}
