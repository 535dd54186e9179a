import { measureDistance } from '../measure-distance.ts';
import type { CheckedMesh } from './checked-mesh.ts';
import { pairShells } from './pair-shells.ts';

/** A garment with less of its points paired has one side only. */
export const LEAST_PAIRED = 0.3;

/** A point between the sides is at most so many times farther from one than from the other. */
const MOST_UNEQUAL = 1.25;

/** The band that joins the two sides of a garment along its border. */
export interface Rim {
  /** [faces], [edges]: non-zero in the band. */
  isFace: Uint8Array;
  isEdge: Uint8Array;
}

const rimOfMesh = new WeakMap<CheckedMesh, Rim>();

/**
 * Finds the rim of a two-sided garment: faces that go from a point to its partner on the other side, at once or over a
 * point between the two. It is as narrow as the garment is thick, and meant to be. Nothing of a garment with one side.
 */
export function findRim(mesh: CheckedMesh): Rim {
  let rim = rimOfMesh.get(mesh);
  if (!rim) {
    rim = listRim(mesh);
    rimOfMesh.set(mesh, rim);
  }
  return rim;
}

function listRim(mesh: CheckedMesh): Rim {
  const { faces, areas, pointCount, table } = mesh;
  const partner = pairShells(mesh);
  const isFace = new Uint8Array(areas.length);
  const isEdge = new Uint8Array(table.edgeCount);
  const paired = partner.reduce((sum, q) => sum + (q >= 0 ? 1 : 0), 0);
  if (paired < LEAST_PAIRED * pointCount) return { isFace, isEdge };
  const isBetween = findPointsBetween(mesh, partner);
  const joins = (p: number, q: number): boolean =>
    partner[p] === q || isBetween[p] !== 0 || isBetween[q] !== 0;
  for (let f = 0; f < areas.length; f++) {
    const [a, b, c] = [faces[3 * f]!, faces[3 * f + 1]!, faces[3 * f + 2]!];
    isFace[f] = joins(a, b) || joins(b, c) || joins(c, a) ? 1 : 0;
  }
  for (let e = 0; e < table.edgeCount; e++)
    isEdge[e] = joins(table.edges[2 * e]!, table.edges[2 * e + 1]!) ? 1 : 0;
  return { isFace, isEdge };
}

/** Points without a partner that are joined to a point and to its partner, about as far from one as from the other. */
function findPointsBetween(
  { table, pointCount, pointPositions: positions }: CheckedMesh,
  partner: Int32Array,
): Uint8Array {
  const around: number[][] = Array.from({ length: pointCount }, () => []);
  for (let e = 0; e < table.edgeCount; e++) {
    const [p, q] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    if (partner[p]! < 0 && partner[q]! >= 0) around[p]!.push(q);
    else if (partner[q]! < 0 && partner[p]! >= 0) around[q]!.push(p);
  }
  return Uint8Array.from(around, (list, m) => {
    const isBetween = list.some((p) => {
      const [near, far] = [p, partner[p]!]
        .map((end) => measureDistance(positions, m, end))
        .sort((a, b) => a - b);
      return list.includes(partner[p]!) && far! < MOST_UNEQUAL * near!;
    });
    return isBetween ? 1 : 0;
  });
}
