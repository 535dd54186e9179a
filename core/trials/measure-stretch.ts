import { writeStrains } from '../cloth/index.ts';
import type { CharacterRun, GarmentRun } from '../run/index.ts';

/** Strains in steps of this are told apart before they are sorted. */
const STEP = 0.002;
/** As many steps; from the last on all are alike at first. */
const STEPS = 1024;

/** Edges of one garment. */
interface Edges {
  strains: Float32Array;
  /** Lengths at rest, m; 0 for those that do not count. */
  lengths: Float32Array;
  /** Of all that count, m. */
  total: number;
}

export interface Stretch {
  /** The strain that the share of edge length stays below, never below 0. */
  shared: number;
  /** Of the most stretched edge, never below 0, and a row of the garment at it; -1 when none is stretched. */
  most: number;
  row: number;
}

/** Tells how far the cloth of a run is stretched. */
export class StretchMeasure {
  readonly #run: CharacterRun;
  readonly #edges: Edges[];
  readonly #lengthOf = new Float64Array(STEPS);

  constructor(run: CharacterRun) {
    this.#run = run;
    this.#edges = run.garments.map((garment) => {
      const lengths = listLengths(garment);
      const total = lengths.reduce((sum, length) => sum + length, 0);
      return { strains: new Float32Array(lengths.length), lengths, total };
    });
  }

  /**
   * Of each garment the strain that a share of its edge length stays below, and the most stretched edge. By length, so that a thin
   * row of tiny edges does not speak for the cloth. O(edges).
   */
  measure(share: number): Stretch[] {
    return this.#edges.map((edges, g) => {
      const { setup, shown } = this.#run.garments[g]!;
      const { strains, lengths } = edges;
      writeStrains(setup.compiled, shown, strains);
      let [most, edge] = [0, -1];
      for (let s = 0; s < strains.length; s++) {
        if (lengths[s]! > 0 && strains[s]! > most) {
          most = strains[s]!;
          edge = s;
        }
      }
      const row = edge < 0 ? -1 : setup.compiled.stretchPairs[2 * edge]!;
      return { shared: this.#findShared(edges, share), most, row };
    });
  }

  #findShared(edges: Edges, share: number): number {
    const lengthOf = this.#lengthOf.fill(0);
    addLengths(edges.strains, edges.lengths, lengthOf);
    let left = (1 - share) * edges.total;
    let step = STEPS - 1;
    while (step >= 0 && left > lengthOf[step]!) left -= lengthOf[step--]!;
    return step < 0 ? 0 : findWithin(edges, step, left);
  }
}

/** The strain within a step that so much length, m, is above. */
function findWithin({ strains, lengths }: Edges, step: number, above: number): number {
  const edges: { strain: number; length: number }[] = [];
  for (let s = 0; s < strains.length; s++)
    if (lengths[s]! > 0 && findStep(strains[s]!) === step)
      edges.push({ strain: strains[s]!, length: lengths[s]! });
  edges.sort((p, q) => q.strain - p.strain);
  let left = above;
  for (const { strain, length } of edges) {
    left -= length;
    if (left <= 0) return strain;
  }
  return edges[edges.length - 1]?.strain ?? 0;
}

/** What rides on the outer side of a lining is as long as that leaves it, and does not count. */
function listLengths({ setup: { compiled, lining } }: GarmentRun): Float32Array {
  const rides = (row: number): boolean => lining?.[compiled.weldedOfPoint[row]!] === 1;
  return compiled.stretchRest.map((rest, s) =>
    rides(compiled.stretchPairs[2 * s]!) || rides(compiled.stretchPairs[2 * s + 1]!) ? 0 : rest,
  );
}

function addLengths(strains: Float32Array, lengths: Float32Array, lengthOf: Float64Array): void {
  for (let s = 0; s < strains.length; s++) {
    const step = findStep(strains[s]!);
    if (step >= 0) lengthOf[step] = lengthOf[step]! + lengths[s]!;
  }
}

/** Below 0 for what is shorter than at rest. */
function findStep(strain: number): number {
  return Math.min(STEPS - 1, Math.floor(strain / STEP));
}
