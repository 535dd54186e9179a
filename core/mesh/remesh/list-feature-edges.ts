import type { Vector3 } from '../../math/index.ts';
import { buildEdgeTable, type EdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { facesAlike, normalOfSource } from './places.ts';

/** Height of a sliver over its longest side: of about 1°. */
const SLIVER_HEIGHT = 0.02;
/** So many slivers may lie beside one another. */
const MOST_SLIVERS = 8;

/** Open borders, edges that two triangles meet at a sharp angle, edges that are not manifold, and those asked for. */
export function listFeatureEdges(
  source: Surface,
  sharpCosine: number,
  lines: Uint32Array | undefined,
): [number, number][] {
  const table = buildEdgeTable(source.triangles, source.positions.length / 3);
  const features: [number, number][] = [];
  const nonManifold = new Set(table.nonManifold);
  const facing = new Facing(source, table);
  const kept = new Set<string>();
  for (let i = 0; i < (lines?.length ?? 0); i += 2) {
    kept.add([lines![i]!, lines![i + 1]!].sort((p, q) => p - q).join());
  }
  for (let e = 0; e < table.edgeCount; e++) {
    const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    const [t, other] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    const isFeature =
      other === NO_TRIANGLE ||
      nonManifold.has(e) ||
      kept.has(`${a},${b}`) ||
      (sharpCosine > -1 && !facesAlike(facing.get(t), facing.get(other), sharpCosine));
    if (isFeature) features.push([a, b]);
  }
  return features;
}

/** Which way triangles face; of slivers, whose own normals are noise, as the neighbour across their longest side does. */
class Facing {
  readonly #source: Surface;
  /** Neighbour over each side of each triangle, [t, 3]. */
  readonly #across: Int32Array;

  constructor(source: Surface, table: EdgeTable) {
    this.#source = source;
    this.#across = new Int32Array(source.triangles.length).fill(NO_TRIANGLE);
    for (let e = 0; e < table.edgeCount; e++) {
      const [t, other] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
      if (other === NO_TRIANGLE) continue;
      this.#across[3 * t + this.#findOpposite(t, table.opposite[2 * e]!)] = other;
      this.#across[3 * other + this.#findOpposite(other, table.opposite[2 * e + 1]!)] = t;
    }
  }

  get(triangle: number): Vector3 {
    let t = triangle;
    for (let step = 0; step < MOST_SLIVERS; step++) {
      const { side, isSliver } = this.#measure(t);
      const next = this.#across[3 * t + side]!;
      if (!isSliver || next === NO_TRIANGLE) break;
      t = next;
    }
    return normalOfSource(this.#source, t);
  }

  /** The corner opposite to the longest side, by its number. */
  #measure(t: number): { side: number; isSliver: boolean } {
    const { positions: p, triangles } = this.#source;
    let [side, longest] = [0, 0];
    for (let k = 0; k < 3; k++) {
      const [a, b] = [3 * triangles[3 * t + ((k + 1) % 3)]!, 3 * triangles[3 * t + ((k + 2) % 3)]!];
      const squared = (p[a]! - p[b]!) ** 2 + (p[a + 1]! - p[b + 1]!) ** 2 + (p[a + 2]! - p[b + 2]!) ** 2;
      if (squared > longest) [side, longest] = [k, squared];
    }
    const n = normalOfSource(this.#source, t);
    const isSliver = n[0] * n[0] + n[1] * n[1] + n[2] * n[2] <= (SLIVER_HEIGHT * longest) ** 2;
    return { side, isSliver };
  }

  #findOpposite(t: number, point: number): number {
    return [0, 1, 2].find((k) => this.#source.triangles[3 * t + k] === point)!;
  }
}
