import { DisjointSets } from '../../math/index.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** The piece that each face belongs to: faces that share a point are of one piece. Numbered from the largest down. */
export function numberPieces({
  faces,
  areas,
  pointCount,
}: Pick<CheckedMesh, 'faces' | 'areas' | 'pointCount'>): {
  pieceOfFace: Uint32Array;
  /** m², largest first. */
  pieceAreas: number[];
} {
  const sets = new DisjointSets(pointCount);
  for (let i = 0; i < faces.length; i += 3) {
    sets.join(faces[i]!, faces[i + 1]!);
    sets.join(faces[i]!, faces[i + 2]!);
  }
  const areaOf = new Map<number, number>();
  for (let f = 0; f < areas.length; f++) {
    const piece = sets.find(faces[3 * f]!);
    areaOf.set(piece, (areaOf.get(piece) ?? 0) + areas[f]!);
  }
  const order = [...areaOf.entries()].sort((p, q) => q[1] - p[1] || p[0] - q[0]);
  const number = new Map(order.map(([piece], i) => [piece, i]));
  return {
    pieceOfFace: Uint32Array.from({ length: areas.length }, (_, f) => number.get(sets.find(faces[3 * f]!))!),
    pieceAreas: order.map(([, area]) => area),
  };
}

/** Pieces that are joined to nothing; null without any. */
export function findLoosePieces(mesh: CheckedMesh): MeshFinding | null {
  const { pieceOfFace, pieceAreas } = numberPieces(mesh);
  if (pieceAreas.length < 2) return null;
  const loose = Array.from(pieceOfFace.keys()).filter((f) => pieceOfFace[f]! > 0);
  const whole = pieceAreas.reduce((sum, area) => sum + area, 0);
  const share = whole > 0 ? 100 * (1 - pieceAreas[0]! / whole) : 0;
  return {
    kind: 'loosePiece',
    severity: 'warning',
    count: pieceAreas.length - 1,
    vertices: toVertices(
      mesh,
      loose.flatMap((f) => [...mesh.faces.subarray(3 * f, 3 * f + 3)]),
    ),
    measured: share,
    limit: 0,
    unit: '% of the area',
    sentence: `${pieceAreas.length - 1} ${pieceAreas.length === 2 ? 'piece is' : 'pieces are'} not joined to the rest: each must be held by itself, or it falls.`,
    fix: 'splitPieces',
  };
}
