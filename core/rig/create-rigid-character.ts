import type { Character } from './character.ts';

/** As many as a glTF attribute holds. */
const INFLUENCES = 4;

/** A mesh as a character of one section that hangs rigidly on one joint at the origin. */
export function createRigidCharacter(
  name: string,
  positions: Float32Array,
  triangles: Uint32Array,
): Character {
  const vertexCount = positions.length / 3;
  return {
    name,
    skeleton: {
      names: ['root'],
      parents: Int32Array.of(-1),
      translations: new Float64Array(3),
      rotations: Float64Array.of(0, 0, 0, 1),
      scales: Float64Array.of(1, 1, 1),
    },
    skins: [
      {
        name: 'skin',
        joints: Uint32Array.of(0),
        inverseBinds: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
      },
    ],
    sections: [
      {
        name,
        meshIndex: 0,
        meshName: name,
        primitiveIndex: 0,
        materialName: '',
        node: 0,
        skin: 0,
        isRigid: true,
        positions,
        normals: new Float32Array(positions.length),
        uvs: null,
        colors: null,
        influences: INFLUENCES,
        jointIndices: new Uint16Array(INFLUENCES * vertexCount),
        jointWeights: Float32Array.from({ length: INFLUENCES * vertexCount }, (_, i) =>
          i % INFLUENCES === 0 ? 1 : 0,
        ),
        triangles,
        morphs: [],
        morphWeights: new Float32Array(0),
        baseColor: [1, 1, 1, 1],
        isTwoSided: true,
      },
    ],
    clips: [],
  };
}
