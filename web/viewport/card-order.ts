import { DisjointSets } from '../../core/math/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import type { Section } from '../../core/rig/index.ts';

interface Card {
  /** Corners of its triangles. */
  corners: number[];
  /** Middle of its vertices in the section's space, and how much each joint moves it. */
  middle: [number, number, number];
  joints: [joint: number, weight: number][];
}

/**
 * The pieces of a section that lets what is behind it through (hair, feathers, foliage), drawn from the farthest to the nearest. Pieces
 * that pass through one another cannot be told apart so. Ours.
 */
export class CardOrder {
  readonly #cards: Card[];
  #order: number[];

  constructor(section: Section) {
    this.#cards = listCards(section);
    this.#order = this.#cards.map((_, card) => card);
  }

  /**
   * Puts the pieces in order.
   *
   * @param index - Of the drawn geometry, [t, 3]; changed. @param matrices - From the section's space into the world, [joints, 16].
   * @param eye - World place that is looked from. @returns Whether the order is another.
   */
  sort(index: Uint32Array, matrices: Float32Array, eye: readonly [number, number, number]): boolean {
    const distances = this.#cards.map((card) => measureDistance(card, matrices, eye));
    const order = this.#cards.map((_, card) => card).sort((p, q) => distances[q]! - distances[p]! || p - q);
    if (order.every((card, i) => card === this.#order[i])) return false;
    this.#order = order;
    let at = 0;
    for (const card of order) {
      const { corners } = this.#cards[card]!;
      index.set(corners, at);
      at += corners.length;
    }
    return true;
  }
}

function listCards(section: Section): Card[] {
  const { triangles, positions, influences, jointIndices, jointWeights } = section;
  const { pointOfVertex, pointCount } = weldPoints(positions);
  const sets = new DisjointSets(pointCount);
  const pointOf = (corner: number): number => pointOfVertex[triangles[corner]!]!;
  for (let t = 0; t < triangles.length; t += 3) {
    sets.join(pointOf(t), pointOf(t + 1));
    sets.join(pointOf(t), pointOf(t + 2));
  }
  const cards = new Map<number, number[]>();
  for (let t = 0; t < triangles.length; t += 3) {
    const piece = sets.find(pointOf(t));
    const corners = cards.get(piece) ?? [];
    corners.push(triangles[t]!, triangles[t + 1]!, triangles[t + 2]!);
    cards.set(piece, corners);
  }
  return [...cards.values()].map((corners): Card => {
    const middle: Card['middle'] = [0, 0, 0];
    const joints = new Map<number, number>();
    for (const vertex of corners) {
      for (let k = 0; k < 3; k++) middle[k] = middle[k]! + positions[3 * vertex + k]! / corners.length;
      for (let i = influences * vertex; i < influences * (vertex + 1); i++) {
        if (jointWeights[i]! === 0) continue;
        joints.set(jointIndices[i]!, (joints.get(jointIndices[i]!) ?? 0) + jointWeights[i]! / corners.length);
      }
    }
    return { corners, middle, joints: [...joints] };
  });
}

function measureDistance(
  { middle: [x, y, z], joints }: Card,
  matrices: Float32Array,
  eye: readonly [number, number, number],
): number {
  const place = [0, 0, 0];
  for (const [joint, weight] of joints) {
    const m = 16 * joint;
    for (let k = 0; k < 3; k++)
      place[k] =
        place[k]! +
        weight *
          (matrices[m + k]! * x +
            matrices[m + 4 + k]! * y +
            matrices[m + 8 + k]! * z +
            matrices[m + 12 + k]!);
  }
  return Math.hypot(place[0]! - eye[0], place[1]! - eye[1], place[2]! - eye[2]);
}
