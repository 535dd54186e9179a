import { SignedDistanceField, weldPoints, weldTriangles } from '../mesh/index.ts';
import { applyMorphs, type Character, type Pose, skinPoints } from '../rig/index.ts';

/**
 * The surface of the body's sections in the pose of a run, for signed distances.
 * Sections are welded into points first, so that seams do not open the surface.
 */
export class PosedSkin {
  readonly #character: Character;
  readonly #sections: readonly number[];
  /** First row of each section in the joined vertex list. */
  readonly #starts: number[] = [];
  readonly #vertices: Float32Array;
  readonly #points: Float32Array;
  readonly #vertexOfPoint: Uint32Array;
  readonly #field: SignedDistanceField | null;
  readonly #scratch: Float32Array[];

  constructor(character: Character, sections: readonly number[]) {
    this.#character = character;
    this.#sections = sections;
    let vertexCount = 0;
    let indexCount = 0;
    for (const index of sections) {
      this.#starts.push(vertexCount);
      vertexCount += character.sections[index]!.positions.length / 3;
      indexCount += character.sections[index]!.triangles.length;
    }
    this.#vertices = new Float32Array(3 * vertexCount);
    this.#scratch = sections.map((index) => new Float32Array(character.sections[index]!.positions.length));
    const joined = new Float32Array(3 * vertexCount);
    const triangles = new Uint32Array(indexCount);
    let fill = 0;
    sections.forEach((index, s) => {
      const section = character.sections[index]!;
      joined.set(section.positions, 3 * this.#starts[s]!);
      for (const vertex of section.triangles) triangles[fill++] = vertex + this.#starts[s]!;
    });
    const welded = weldPoints(joined);
    this.#vertexOfPoint = welded.vertexOfPoint;
    this.#points = new Float32Array(3 * welded.pointCount);
    const faces = weldTriangles(triangles, welded.pointOfVertex);
    // An index over nothing has no closest point to give.
    this.#field =
      faces.length > 0 ? new SignedDistanceField(joinPoints(joined, welded.vertexOfPoint), faces) : null;
  }

  get isEmpty(): boolean {
    return this.#field === null;
  }

  /** Moves the surface. @param skinMatrices - Per skin, [joints, 16]. */
  follow(pose: Pose, skinMatrices: readonly Float32Array[]): void {
    if (!this.#field) return;
    this.#sections.forEach((index, s) => {
      const section = this.#character.sections[index]!;
      const start = 3 * this.#starts[s]!;
      const out = this.#vertices.subarray(start, start + section.positions.length);
      const morphed =
        section.morphs.length > 0
          ? applyMorphs(section, pose.morphWeights[index]!, this.#scratch[s]!)
          : section.positions;
      skinPoints({ ...section, positions: morphed }, skinMatrices[section.skin]!, out);
    });
    for (let p = 0; p < this.#vertexOfPoint.length; p++) {
      const v = 3 * this.#vertexOfPoint[p]!;
      for (let k = 0; k < 3; k++) this.#points[3 * p + k] = this.#vertices[v + k]!;
    }
    this.#field.refit(this.#points);
  }

  /** How deep a place lies inside the body, metres; 0 outside, and deeper than `most` counts as elsewhere. */
  measureDepth(x: number, y: number, z: number, most: number): number {
    const measured = this.#field?.measure(x, y, z, most);
    return measured && measured.distance < 0 ? -measured.distance : 0;
  }
}

function joinPoints(vertices: Float32Array, vertexOfPoint: Uint32Array): Float32Array {
  const points = new Float32Array(3 * vertexOfPoint.length);
  for (let p = 0; p < vertexOfPoint.length; p++) {
    for (let k = 0; k < 3; k++) points[3 * p + k] = vertices[3 * vertexOfPoint[p]! + k]!;
  }
  return points;
}
