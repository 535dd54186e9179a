/** A point that was tried. */
export interface TriedPoint {
  /** Each 0 to 1. [dimensions] */
  point: readonly number[];
  /** The less the better. */
  score: number;
}

interface Strength {
  lambda: number;
  weights: readonly number[];
  muEff: number;
  cSigma: number;
  dSigma: number;
  cCumulate: number;
  cRank1: number;
  cRankMu: number;
  /** Expected length of a normally distributed vector. */
  chi: number;
}

/** Widest that a step may be, as a share of a side of the cube. */
const MOST_SIGMA = 0.5;

/**
 * An evolution strategy in the unit cube that learns how far to step along each dimension. What is stepped out of the cube is mirrored
 * back. The best of before stay among the parents: what is measured is the same each time. All that is random is given, so that the same numbers and scores give the same points.
 *
 * Reference: R. Ros, N. Hansen, *A Simple Modification in CMA-ES Achieving Linear Time and Space Complexity*, PPSN 2008; its parameters:
 * N. Hansen, *The CMA Evolution Strategy: A Tutorial*, arXiv:1604.00772.
 */
export class Evolution {
  readonly #strength: Strength;
  #mean: number[];
  #sigma: number;
  /** Variance of each dimension. */
  readonly #variance: number[];
  readonly #pathSigma: number[];
  readonly #pathC: number[];
  #generation = 0;
  /** The best of all that are known. */
  #best: readonly TriedPoint[];

  /** @param known - Good points, among which it begins. @param sigma - How far it steps at first, as a share of a side. */
  constructor(known: readonly TriedPoint[], sigma: number) {
    const count = known[0]!.point.length;
    this.#best = known;
    this.#strength = chooseStrength(count);
    this.#mean = Array.from(
      { length: count },
      (_, i) => known.reduce((sum, { point }) => sum + point[i]!, 0) / known.length,
    );
    this.#sigma = sigma;
    this.#variance = Array(count).fill(1);
    this.#pathSigma = Array(count).fill(0);
    this.#pathC = Array(count).fill(0);
  }

  /** Points of a generation. */
  get size(): number {
    return this.#strength.lambda;
  }

  /** The next generation. @param normal - Draws a normally distributed number. */
  ask(normal: () => number): number[][] {
    return Array.from({ length: this.size }, () =>
      this.#mean.map((mean, i) => mirror(mean + this.#sigma * Math.sqrt(this.#variance[i]!) * normal())),
    );
  }

  /** Learns from a generation, in any order. */
  tell(generation: readonly TriedPoint[]): void {
    const { weights, muEff, cSigma, dSigma, cCumulate, cRank1, cRankMu, chi } = this.#strength;
    const best = [...generation, ...this.#best].sort((p, q) => p.score - q.score).slice(0, weights.length);
    this.#best = best;
    const before = this.#mean;
    this.#mean = before.map((_, i) => best.reduce((sum, { point }, k) => sum + weights[k]! * point[i]!, 0));
    const step = this.#mean.map((mean, i) => (mean - before[i]!) / this.#sigma);
    this.#generation++;
    const push = Math.sqrt(cSigma * (2 - cSigma) * muEff);
    for (const [i, along] of step.entries())
      this.#pathSigma[i] =
        (1 - cSigma) * this.#pathSigma[i]! + (push * along) / Math.sqrt(this.#variance[i]!);
    const length = Math.hypot(...this.#pathSigma);
    const usual = Math.sqrt(1 - (1 - cSigma) ** (2 * this.#generation));
    const isSteady = length / usual < (1.4 + 2 / (step.length + 1)) * chi;
    const pull = isSteady ? Math.sqrt(cCumulate * (2 - cCumulate) * muEff) : 0;
    for (const [i, along] of step.entries()) {
      this.#pathC[i] = (1 - cCumulate) * this.#pathC[i]! + pull * along;
      const missed = isSteady ? 0 : cCumulate * (2 - cCumulate);
      const spreadOfBest = best.reduce(
        (sum, { point }, k) => sum + weights[k]! * ((point[i]! - before[i]!) / this.#sigma) ** 2,
        0,
      );
      this.#variance[i] =
        (1 - cRank1 - cRankMu) * this.#variance[i]! +
        cRank1 * (this.#pathC[i]! ** 2 + missed * this.#variance[i]!) +
        cRankMu * spreadOfBest;
    }
    this.#sigma = Math.min(MOST_SIGMA, this.#sigma * Math.exp((cSigma / dSigma) * (length / chi - 1)));
  }
}

function chooseStrength(count: number): Strength {
  // Few, and so more generations: runs are dear.
  const lambda = Math.max(6, count);
  const mu = Math.floor(lambda / 2);
  const raw = Array.from({ length: mu }, (_, k) => Math.log((lambda + 1) / 2) - Math.log(k + 1));
  const total = raw.reduce((sum, weight) => sum + weight, 0);
  const weights = raw.map((weight) => weight / total);
  const muEff = 1 / weights.reduce((sum, weight) => sum + weight ** 2, 0);
  const cSigma = (muEff + 2) / (count + muEff + 5);
  // Only the diagonal is learned: so much faster.
  const faster = (count + 2) / 3;
  const cRank1 = Math.min(0.5, (faster * 2) / ((count + 1.3) ** 2 + muEff));
  const cRankMu = Math.min(1 - cRank1, (faster * 2 * (muEff - 2 + 1 / muEff)) / ((count + 2) ** 2 + muEff));
  return {
    lambda,
    weights,
    muEff,
    cSigma,
    dSigma: 1 + 2 * Math.max(0, Math.sqrt((muEff - 1) / (count + 1)) - 1) + cSigma,
    cCumulate: (4 + muEff / count) / (count + 4 + (2 * muEff) / count),
    cRank1,
    cRankMu: Math.max(0, cRankMu),
    chi: Math.sqrt(count) * (1 - 1 / (4 * count) + 1 / (21 * count ** 2)),
  };
}

/** Back into 0 to 1, as if the sides were mirrors. */
function mirror(value: number): number {
  const turned = Math.abs(value) % 2;
  return turned > 1 ? 2 - turned : turned;
}
