import type { CheckedMesh } from '../../core/mesh/index.ts';
import { createHandMesh, type HandMesh } from '../../core/prepare/index.ts';
import {
  type Character,
  findSection,
  invertBind,
  type Section,
  type SectionName,
  toDenseWeights,
  toSparseWeights,
} from '../../core/rig/index.ts';
import { getSectionMesh } from './section-mesh.ts';

/** Joints that a point may follow while it is worked on. */
const INFLUENCES = 8;

/** The points of one section with their weights, to be skinned, worked on by hand and shown on the page. */
export class BoundSection {
  readonly name: SectionName;
  readonly sectionIndex: number;
  readonly section: Section;
  readonly mesh: CheckedMesh;
  readonly hand: HandMesh;
  readonly jointCount: number;
  /** Places in the section's own space, [points, 3], and weights of the points as skinning takes them. */
  readonly positions: Float32Array;
  readonly influences = INFLUENCES;
  readonly jointIndices: Uint16Array;
  readonly jointWeights: Float32Array;
  /** [points, joints] */
  readonly dense: Float32Array;

  constructor(character: Character, name: SectionName) {
    this.name = { sectionIndex: name.sectionIndex, sectionName: name.sectionName };
    this.sectionIndex = findSection(character, name);
    const section = character.sections[this.sectionIndex];
    if (!section) throw new RangeError(`there is no section "${name.sectionName}"`);
    this.section = section;
    this.mesh = getSectionMesh(character, this.sectionIndex);
    this.hand = createHandMesh(this.mesh);
    this.jointCount = character.skins[section.skin]!.joints.length;
    this.positions = invertBind(character, section.skin, this.mesh.pointPositions);
    const { vertexOfPoint, pointCount } = this.mesh;
    const ofVertices = toDenseWeights(section, this.jointCount);
    this.dense = new Float32Array(pointCount * this.jointCount);
    this.jointIndices = new Uint16Array(INFLUENCES * pointCount);
    this.jointWeights = new Float32Array(INFLUENCES * pointCount);
    vertexOfPoint.forEach((vertex, p) => {
      const from = vertex * this.jointCount;
      this.dense.set(ofVertices.subarray(from, from + this.jointCount), p * this.jointCount);
    });
    this.refreshRows(vertexOfPoint.keys());
  }

  /** Takes over what `dense` says of some points. */
  refreshRows(points: Iterable<number>): void {
    for (const p of points) {
      const row = this.dense.subarray(p * this.jointCount, (p + 1) * this.jointCount);
      const { jointIndices, jointWeights } = toSparseWeights(row, this.jointCount, INFLUENCES);
      this.jointIndices.set(jointIndices, INFLUENCES * p);
      this.jointWeights.set(jointWeights, INFLUENCES * p);
    }
  }
}
