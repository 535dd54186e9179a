import { NO_TRIANGLE } from './edge-table.ts';
import { type CheckedMesh, listUvIslands, numberPieces } from './health/index.ts';

/** Faces that share a point with a picked one are picked too. @param isPicked - Of the mesh's faces. */
export function growFaces(
  { faces, pointCount }: Pick<CheckedMesh, 'faces' | 'pointCount'>,
  isPicked: Uint8Array,
): Uint8Array {
  const touched = new Uint8Array(pointCount);
  for (let i = 0; i < faces.length; i++) if (isPicked[Math.floor(i / 3)]) touched[faces[i]!] = 1;
  return isPicked.map(
    (_, f) => (touched[faces[3 * f]!]! | touched[faces[3 * f + 1]!]! | touched[faces[3 * f + 2]!]!) as 0 | 1,
  );
}

/** Faces that share a point with one that is not picked are let go. */
export function shrinkFaces(
  mesh: Pick<CheckedMesh, 'faces' | 'pointCount'>,
  isPicked: Uint8Array,
): Uint8Array {
  const grown = growFaces(mesh, invertFaces(isPicked));
  return invertFaces(grown);
}

/** Picks what is not picked, and the other way round. @param isPicked - Non-zero: picked, [f]. @returns A new array. */
export function invertFaces(isPicked: Uint8Array): Uint8Array {
  return isPicked.map((one) => 1 - one);
}

/** All faces of the connected pieces that have a picked one. */
export function pickPieces(mesh: CheckedMesh, isPicked: Uint8Array): Uint8Array {
  const { pieceOfFace } = numberPieces(mesh);
  const wanted = new Set(Array.from(pieceOfFace).filter((_, f) => isPicked[f]));
  return isPicked.map((_, f) => (wanted.has(pieceOfFace[f]!) ? 1 : 0));
}

/** All faces of the UV islands that have a picked one. */
export function pickIslands(mesh: CheckedMesh, isPicked: Uint8Array): Uint8Array {
  const picked = new Uint8Array(isPicked.length);
  for (const island of listUvIslands(mesh)) {
    if (island.some((f) => isPicked[f])) for (const f of island) picked[f] = 1;
  }
  return picked;
}

/** Faces with a corner within a radius of a place, reached from the face there without leaving the radius: a brush. */
export function pickAround(
  mesh: CheckedMesh,
  positions: Float32Array,
  face: number,
  position: readonly [number, number, number],
  radius: number,
): number[] {
  const isNear = (f: number): boolean =>
    [0, 1, 2].some((k) => {
      const p = 3 * mesh.faces[3 * f + k]!;
      return (
        Math.hypot(
          positions[p]! - position[0],
          positions[p + 1]! - position[1],
          positions[p + 2]! - position[2],
        ) <= radius
      );
    });
  const found = [face];
  const seen = new Set(found);
  const across = listFacesAcross(mesh);
  for (const f of found) {
    for (const g of across[f]!) {
      if (seen.has(g) || !isNear(g)) continue;
      seen.add(g);
      found.push(g);
    }
  }
  return found;
}

const acrossOfMesh = new WeakMap<CheckedMesh, number[][]>();

function listFacesAcross(mesh: CheckedMesh): number[][] {
  const known = acrossOfMesh.get(mesh);
  if (known) return known;
  const across: number[][] = Array.from({ length: mesh.faces.length / 3 }, () => []);
  for (let e = 0; e < mesh.table.edgeCount; e++) {
    const [f, g] = [mesh.table.triangles[2 * e]!, mesh.table.triangles[2 * e + 1]!];
    if (g === NO_TRIANGLE) continue;
    across[f]!.push(g);
    across[g]!.push(f);
  }
  acrossOfMesh.set(mesh, across);
  return across;
}
