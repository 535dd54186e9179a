import { type CollisionShape, meetShape } from '../bodies/index.ts';
import type { BodySkin } from './body-skin.ts';
import type { Candidate, PlacedShape } from './list-candidates.ts';
import { type Cover, measureCover } from './measure-cover.ts';
import type { Demand } from './measure-demand.ts';

/** Where the choice stops. */
export interface ChoiceGoal {
  /** Bodies at most, those that are kept included. */
  bodies: number;
  /** Penetration, m, and mean show-through on each clip, m², below which there is nothing left to do; with 0 only what is clean ends before the number. */
  penetration: number;
  showThrough: number;
}

/** A set that was tried, and what it left open on the clips. */
export interface TriedSet {
  bodies: readonly PlacedShape[];
  demands: readonly Demand[];
}

/** Skin that may be touched counts a little though nothing showed through there: the next clip comes. As a share of its area. */
const COVER_SHARE = 0.05;
/** What was open once counts on by this share, for the bodies that close it. */
const EVER_SHARE = 0.3;
/** The deepest fault of each clip counts as so much more, m², when it is deeper than this, m: a small place is easily outweighed by large ones. */
const DEEPEST_WEIGHT = 2e-3;
const DEEP = 0.004;
/** A body that covers less than this of what the others do not, m², is idle. */
const IDLE_GAIN = 1e-4;
/** What overhang costs, as a share of the area that is overhung. */
const OVERHANG_PRICE = 0.025;
/** And what it costs that a body stands out where the skin has left it. */
const STRAY_PRICE = 0.5;
/** Sets of the whole number that are tried: after that, one idle body for another gains little. */
const MOST_FULL = 2;
/** Two are chosen at once while more than this share of all that ever was open is, when the second gains so much of what the first does. */
const FAR_SHARE = 0.12;
const SECOND_SHARE = 0.4;
/** A body that gains less than this, m², is not taken. */
const LEAST_GAIN = 2e-5;

/**
 * Chooses bodies one candidate after another: that which covers most of what the last simulation left open, for each body that it is of.
 * Whoever runs it simulates each set that it names, and tells it what came of it.
 *
 * Greedy choice of covers is within 1 - 1/e of the best (G. L. Nemhauser, L. A. Wolsey and M. L. Fisher, *An analysis of approximations
 * for maximizing submodular set functions*, Mathematical Programming 14, 1978); the weights are measured anew after each.
 */
export class BodyChooser {
  readonly #skin: BodySkin;
  readonly #goal: ChoiceGoal;
  readonly #kept: readonly PlacedShape[];
  readonly #reach: Float32Array;
  readonly #candidates: { candidate: Candidate; cover: Cover }[];
  readonly #keptCover: Cover;
  #chosen: number[] = [];
  /** The most that was ever open at each point, m². [n] */
  readonly #mostOpen: Float64Array;
  /** Candidates that were dropped. */
  readonly #refused = new Set<number>();
  readonly tried: TriedSet[] = [];

  constructor(
    skin: BodySkin,
    options: {
      candidates: readonly Candidate[];
      reach: Float32Array;
      goal: ChoiceGoal;
      /** Bodies that stay. */
      kept: readonly PlacedShape[];
    },
  ) {
    this.#skin = skin;
    this.#goal = options.goal;
    this.#kept = options.kept;
    this.#reach = options.reach;
    this.#mostOpen = new Float64Array(skin.areas.length);
    this.#candidates = options.candidates.map((candidate) => ({
      candidate,
      cover: measureCover(skin, candidate.bodies),
    }));
    this.#keptCover = measureCover(skin, options.kept);
  }

  /** The set that is to be simulated next: the kept bodies alone at first. */
  get bodies(): readonly PlacedShape[] {
    return [...this.#kept, ...this.#chosen.flatMap((i) => this.#candidates[i]!.candidate.bodies)];
  }

  /**
   * Takes what the set left open, and chooses the next candidate.
   * @returns False when the goal is reached, or nothing is left that helps.
   */
  take(demands: readonly Demand[]): boolean {
    this.tried.push({ bodies: this.bodies, demands });
    const isGood = demands.every(
      ({ penetration, showThrough }) =>
        penetration <= this.#goal.penetration && showThrough <= this.#goal.showThrough,
    );
    const full = this.tried.filter(({ bodies }) => bodies.length >= this.#goal.bodies).length;
    if (isGood || full >= MOST_FULL) return false;
    const weights = this.#sumWeights(demands);
    this.#dropIdle(weights);
    const first = this.#findNext(weights);
    if (!first) return false;
    this.#choose(first.index);
    // While much is open, a second one elsewhere that gains about as much is as sure: it saves a simulation.
    if (this.#isFarFromDone(demands)) {
      const second = this.#findNext(weights, this.#candidates[first.index]!.candidate.key);
      if (second && second.gain > SECOND_SHARE * first.gain) this.#choose(second.index);
    }
    return true;
  }

  #choose(index: number): void {
    const { key } = this.#candidates[index]!.candidate;
    this.#chosen = [...this.#chosen.filter((i) => this.#candidates[i]!.candidate.key !== key), index];
  }

  #isFarFromDone(demands: readonly Demand[]): boolean {
    let open = 0;
    for (const { weights } of demands) for (const weight of weights) open += weight / demands.length;
    return open > FAR_SHARE * this.#mostOpen.reduce((sum, most) => sum + most, 0);
  }

  /** What is open now, with a share of what ever was, so that no body is taken for what another would bare again, and of what may be touched. */
  #sumWeights(demands: readonly Demand[]): Float64Array {
    const { areas } = this.#skin;
    const weights = Float64Array.from(areas, (area, p) => {
      let open = 0;
      for (const { weights } of demands) open += weights[p]! / demands.length;
      if (open > this.#mostOpen[p]!) this.#mostOpen[p] = open;
      return open + EVER_SHARE * this.#mostOpen[p]! + COVER_SHARE * area * this.#reach[p]!;
    });
    for (const { deepest } of demands)
      if (deepest && deepest.depth > Math.max(DEEP, this.#goal.penetration))
        weights[deepest.point] = weights[deepest.point]! + DEEPEST_WEIGHT / demands.length;
    return weights;
  }

  /** Leaves out what the others have come to cover as well. */
  #dropIdle(weights: Float64Array): void {
    for (const i of [...this.#chosen]) {
      const { candidate, cover } = this.#candidates[i]!;
      const gain = this.#measureGain(cover, i, weights, true);
      if (gain >= IDLE_GAIN * candidate.bodies.length) continue;
      this.#chosen = this.#chosen.filter((other) => other !== i);
      this.#refused.add(i);
    }
  }

  /** @param besides - Key of one that was just chosen: others of its joints are not looked at. */
  #findNext(weights: Float64Array, besides = ''): { index: number; gain: number } | null {
    const chosenKeys = new Map(this.#chosen.map((i) => [this.#candidates[i]!.candidate.key, i]));
    const count = this.bodies.length;
    const taken = besides.split('+');
    let best: { index: number; gain: number } | null = null;
    this.#candidates.forEach(({ candidate, cover }, i) => {
      if (this.#refused.has(i) || this.#chosen.includes(i)) return;
      if (candidate.key.split('+').some((joint) => taken.includes(joint))) return;
      const replaced = chosenKeys.get(candidate.key);
      const before = replaced === undefined ? 0 : this.#candidates[replaced]!.candidate.bodies.length;
      const more = candidate.bodies.length - before;
      if (more <= 0 || count + more > this.#goal.bodies) return;
      const gain = this.#measureGain(cover, replaced, weights);
      if (gain < LEAST_GAIN || gain / more <= (best?.gain ?? 0)) return;
      best = { index: i, gain: gain / more };
    });
    return best;
  }

  /**
   * What a candidate covers of the weights that the others do not, less what it overhangs.
   * @param replaced - Chosen one that goes for it; only more than that one covers counts, unless it is `isAlone` to be judged.
   */
  #measureGain(cover: Cover, replaced: number | undefined, weights: Float64Array, isAlone = false): number {
    const others = this.#chosen.filter((i) => i !== replaced).map((i) => this.#candidates[i]!.cover);
    const { areas } = this.#skin;
    const strayBefore = replaced === undefined || isAlone ? 0 : this.#candidates[replaced]!.cover.stray;
    let gain = -STRAY_PRICE * (cover.stray - strayBefore);
    for (let p = 0; p < weights.length; p++) {
      if (cover.covered[p] === 0 && cover.overhung[p] === 0 && replaced === undefined) continue;
      let covered = this.#keptCover.covered[p]!;
      for (const other of others) if (other.covered[p]! > covered) covered = other.covered[p]!;
      const was =
        replaced === undefined || isAlone
          ? covered
          : Math.max(covered, this.#candidates[replaced]!.cover.covered[p]!);
      gain += weights[p]! * (Math.max(covered, cover.covered[p]!) - was);
      gain -= OVERHANG_PRICE * areas[p]! * this.#reach[p]! * cover.overhung[p]!;
    }
    return gain;
  }
}

/** Placed shapes as a run takes them. */
export function toCollision(shapes: readonly PlacedShape[]): CollisionShape[] {
  return shapes.map(({ node, shape, margin }) => meetShape(shape, node, margin));
}
