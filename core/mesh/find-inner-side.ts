import { DisjointSets } from '../math/index.ts';
import { type CheckedMesh, LEAST_PAIRED, pairShells } from './health/index.ts';
import { countPaired, judgeSides } from './judge-sides.ts';
import { buildNeighbours } from './neighbours.ts';
import { computeVertexNormals } from './vertex-normals.ts';

/** A point without a partner faces along with the inner side, cosine: more than this. */
const INNER_FACING = 0.5;
/** One that both sides share faces away from its outer neighbours, cosine: more than this. */
const SHARED_FACING = 0.4;

/**
 * Points of the inner side of a two-sided garment; none of a garment with one side, or where it is not certain.
 *
 * Points that lie over each other and face away from each other are paired. Paired points joined by edges form the
 * sides; of the two, the inner faces towards the garment's middle.
 *
 * @param isForced - Takes what is perhaps a second side for one.
 * @returns [points], 1 for the inner side.
 */
export function findInnerSide(mesh: CheckedMesh, isForced = false): Uint8Array {
  const { pointCount, pointPositions: positions, faces, areas } = mesh;
  const isInner = new Uint8Array(pointCount);
  const pairs = pairShells(mesh);
  const partner = isForced ? pairs : judgeSides(mesh, pairs).partner;
  if (countPaired(partner) < LEAST_PAIRED * pointCount) return isInner;
  const middle = [0, 1, 2].map((k) => {
    let sum = 0;
    for (let p = 0; p < pointCount; p++) sum += positions[3 * p + k]!;
    return sum / pointCount;
  });
  const normals = computeVertexNormals(positions, faces, new Float32Array(positions.length));
  const sideOf = numberSides(faces, partner, normals);
  const outward = new Map<number, number>();
  for (let f = 0; f < areas.length; f++) {
    const side = sideOf[faces[3 * f]!]!;
    if (side < 0 || sideOf[faces[3 * f + 1]!] !== side || sideOf[faces[3 * f + 2]!] !== side) continue;
    let facing = 0;
    // From the vertical axis through the middle: a coat is longer than it is wide.
    for (const k of [0, 2])
      facing += normals[3 * faces[3 * f]! + k]! * (positions[3 * faces[3 * f]! + k]! - middle[k]!);
    outward.set(side, (outward.get(side) ?? 0) + areas[f]! * facing);
  }
  partner.forEach((q, p) => {
    if (q < 0) return;
    const [own, other] = [outward.get(sideOf[p]!) ?? 0, outward.get(sideOf[q]!) ?? 0];
    isInner[p] = own < other || (own === other && p > q) ? 1 : 0;
  });
  spreadSides(mesh, isInner, partner, normals);
  return isInner;
}

/**
 * Points without a partner, near a rim or where the two sides differ, belong to the side that they are joined to and face
 * along with. A hem where the two sides share their points stays with the outer one.
 */
function spreadSides(
  { table, pointCount }: CheckedMesh,
  isInner: Uint8Array,
  partner: Int32Array,
  normals: Float32Array,
): void {
  const { start, list } = buildNeighbours(table, pointCount);
  const isKnown = Uint8Array.from(partner, (q) => (q >= 0 ? 1 : 0));
  let front = Array.from(partner.keys()).filter((p) => isKnown[p]);
  while (front.length > 0) {
    const reached = new Set<number>();
    for (const p of front)
      for (let i = start[p]!; i < start[p + 1]!; i++) if (!isKnown[list[i]!]) reached.add(list[i]!);
    // All of a round are judged by those before it.
    const joined = [...reached].filter((q) => {
      const most = [0, 0];
      let turnedAway = 0;
      for (let i = start[q]!; i < start[q + 1]!; i++) {
        const p = list[i]!;
        if (!isKnown[p]) continue;
        const facing = measureFacing(normals, p, q);
        most[isInner[p]!] = Math.max(most[isInner[p]!]!, facing);
        if (!isInner[p]) turnedAway = Math.max(turnedAway, -facing);
      }
      const facesIn = most[1]! > INNER_FACING && most[1]! > most[0]!;
      // A point that both sides share faces away from one of them as much as along with the other.
      isInner[q] = facesIn && turnedAway < SHARED_FACING ? 1 : 0;
      return most[0]! > 0 || isInner[q] === 1;
    });
    for (const q of joined) isKnown[q] = 1;
    front = joined;
  }
}

/** Cosine between two normals. Around the rim, where one side goes over into the other, they turn about. */
function measureFacing(normals: Float32Array, p: number, q: number): number {
  let facing = 0;
  for (let k = 0; k < 3; k++) facing += normals[3 * p + k]! * normals[3 * q + k]!;
  return facing;
}

/** Numbers of the groups of paired points joined by faces of paired points; -1 for the others. */
function numberSides(faces: Uint32Array, partner: Int32Array, normals: Float32Array): Int32Array {
  const sets = new DisjointSets(partner.length);
  for (let i = 0; i < faces.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const [p, q] = [faces[i + k]!, faces[i + ((k + 1) % 3)]!];
      if (partner[p]! < 0 || partner[q]! < 0) continue;
      if (measureFacing(normals, p, q) > 0) sets.join(p, q);
    }
  }
  return partner.map((q, p) => (q < 0 ? -1 : sets.find(p)));
}
