import { packBodies, poseBodies } from '../bodies/index.ts';
import { ClothSolver } from '../cloth/index.ts';
import { computeVertexNormals } from '../mesh/index.ts';
import { type Pose, type Section, type SkinnedRows, skinPoints } from '../rig/index.ts';
import type { GarmentSetup } from './garment-setup.ts';

/** One garment within a `CharacterRun`: its solver, its skinned targets, and its bodies in the world. */
export class GarmentRun {
  readonly setup: GarmentSetup;
  readonly solver: ClothSolver;
  /** Skinned places of the points, [n, 4]. */
  readonly targets: Float32Array;
  /** World-space bodies, rows as in `packBodies`. */
  bodies: Float32Array;
  readonly #section: Section;
  readonly #sectionIndex: number;
  readonly #rows: SkinnedRows;
  #bodyRows: Float32Array;
  #bodyNodes: Int32Array;
  readonly #pointNormals: Float32Array;

  constructor(section: Section, setup: GarmentSetup, clock?: () => number) {
    const { compiled } = setup;
    this.setup = setup;
    this.#section = section;
    this.#sectionIndex = compiled.sectionIndex;
    this.solver = new ClothSolver(compiled, setup.fabric, clock);
    this.solver.setMaxDistances(setup.maxDistances);
    this.targets = new Float32Array(4 * compiled.pointCount);
    this.#rows = { ...compiled.skinned, positions: compiled.skinned.positions.slice() };
    this.#pointNormals = new Float32Array(3 * compiled.pointCount);
    const packed = packBodies(setup.bodies);
    this.#bodyRows = packed.rows;
    this.#bodyNodes = packed.nodes;
    this.bodies = new Float32Array(packed.rows.length);
  }

  /** Takes new bodies while running. */
  setBodies(bodies: GarmentSetup['bodies'], pose: Pose): void {
    this.setup.bodies = bodies;
    const packed = packBodies(bodies);
    this.#bodyRows = packed.rows;
    this.#bodyNodes = packed.nodes;
    if (this.bodies.length !== packed.rows.length) this.bodies = new Float32Array(packed.rows.length);
    poseBodies(this.#bodyRows, this.#bodyNodes, pose.worldMatrices, this.bodies);
  }

  /** Targets and bodies of a pose. @param skinMatrices - Of the garment's skin. */
  follow(pose: Pose, skinMatrices: Float32Array): void {
    if (this.#section.morphs.length > 0) this.#followMorphs(pose.morphWeights[this.#sectionIndex]!);
    skinPoints(this.#rows, skinMatrices, this.targets, 4);
    poseBodies(this.#bodyRows, this.#bodyNodes, pose.worldMatrices, this.bodies);
  }

  /**
   * Places and normals of the render vertices.
   * @param outPositions - [vertices, 3]; `outNormals` - the same.
   */
  writeVertices(outPositions: Float32Array, outNormals: Float32Array): void {
    const { pointOfVertex, triangles } = this.setup.compiled;
    const x = this.solver.positions;
    computeVertexNormals(x, triangles, this.#pointNormals, 4);
    for (let v = 0; v < pointOfVertex.length; v++) {
      const p = pointOfVertex[v]!;
      for (let k = 0; k < 3; k++) {
        outPositions[3 * v + k] = x[4 * p + k]!;
        outNormals[3 * v + k] = this.#pointNormals[3 * p + k]!;
      }
    }
  }

  #followMorphs(weights: Float64Array): void {
    const { vertexOfPoint, skinned, pointCount } = this.setup.compiled;
    this.#rows.positions.set(skinned.positions);
    this.#section.morphs.forEach((morph, m) => {
      const weight = weights[m]!;
      if (weight === 0) return;
      for (let p = 0; p < pointCount; p++) {
        for (let k = 0; k < 3; k++) {
          const o = 3 * p + k;
          this.#rows.positions[o] =
            this.#rows.positions[o]! + weight * morph.positions[3 * vertexOfPoint[p]! + k]!;
        }
      }
    });
  }
}
