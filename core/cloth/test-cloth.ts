import type { Character } from '../rig/index.ts';

/** A character of one rigid section, to hang cloth in tests without a file. */
export function createTestCharacter(positions: Float32Array, triangles: Uint32Array): Character {
  const vertexCount = positions.length / 3;
  const jointWeights = new Float32Array(4 * vertexCount);
  for (let v = 0; v < vertexCount; v++) jointWeights[4 * v] = 1;
  return {
    name: 'test',
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
        name: 'cloth',
        meshIndex: 0,
        meshName: 'cloth',
        primitiveIndex: 0,
        materialName: '',
        node: 0,
        skin: 0,
        isRigid: true,
        positions,
        normals: new Float32Array(positions.length).fill(0),
        uvs: null,
        colors: null,
        influences: 4,
        jointIndices: new Uint16Array(4 * vertexCount),
        jointWeights,
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

/** A flat sheet of (columns + 1) × (rows + 1) points; `place` gives the point of u, v in 0 to 1. */
export function createSheet(
  columns: number,
  rows: number,
  place: (u: number, v: number) => [number, number, number],
): { positions: Float32Array; triangles: Uint32Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let r = 0; r <= rows; r++) {
    for (let c = 0; c <= columns; c++) positions.push(...place(c / columns, r / rows));
  }
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      const a = r * (columns + 1) + c;
      const b = a + 1;
      const d = a + columns + 1;
      const e = d + 1;
      // Diagonals alternate, so that the sheet has no favoured direction.
      if ((r + c) % 2 === 0) triangles.push(a, d, e, a, e, b);
      else triangles.push(a, d, b, b, d, e);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}
