import { computeVertexNormals } from '../core/mesh/index.ts';
import type { Section } from '../core/rig/index.ts';
import { JOINT_INDEX, JOINTS } from './figure/joints.ts';
import type { Surface } from './figure/polygonise.ts';

/** Linear colour. */
export type Rgb = readonly [number, number, number];

/** Whole weight on one joint. */
export function bindTo(surface: Surface, joint: string): Pick<Section, 'jointIndices' | 'jointWeights'> {
  const count = surface.positions.length / 3;
  const jointIndices = new Uint16Array(4 * count);
  const jointWeights = new Float32Array(4 * count);
  for (let v = 0; v < count; v++) {
    jointIndices[4 * v] = JOINT_INDEX.get(joint)!;
    jointWeights[4 * v] = 1;
  }
  return { jointIndices, jointWeights };
}

/** One colour for each vertex. */
export function fill(surface: Surface, colorOf: (vertex: number) => Rgb): Float32Array {
  const colors = new Float32Array(surface.positions.length);
  for (let v = 0; v < colors.length / 3; v++) colors.set(colorOf(v), 3 * v);
  return colors;
}

/** A section that is the mesh of its own name. @param index - Its place among the meshes, whose nodes come after the joints. */
export function createSection(
  name: string,
  index: number,
  surface: Surface,
  rest: Partial<Section> & Pick<Section, 'jointIndices' | 'jointWeights' | 'colors'>,
): Section {
  return {
    name,
    meshIndex: index,
    meshName: name,
    primitiveIndex: 0,
    materialName: name,
    node: JOINTS.length + index,
    skin: 0,
    isRigid: false,
    positions: surface.positions,
    normals: computeVertexNormals(
      surface.positions,
      surface.triangles,
      new Float32Array(surface.positions.length),
    ),
    uvs: null,
    influences: 4,
    triangles: surface.triangles,
    morphs: [],
    morphWeights: new Float32Array(0),
    baseColor: [1, 1, 1, 1],
    isTwoSided: false,
    ...rest,
  };
}
