import { expose } from 'comlink';
import { type DocumentPatch, openPatch } from '../../core/document/index.ts';
import type { Character } from '../../core/rig/index.ts';
import {
  type BodyChooser,
  BodySuggestion,
  type Candidate,
  type Demand,
  type PlacedShape,
  type SuggestionRequest,
} from '../../core/suggest/index.ts';
import { finishWork } from './finish-work.ts';

type OnShare = (share: number) => unknown;

/** One of several that suggest bodies together: fits its share of the skin, simulates clips; the first one chooses. */
class BodiesLoop {
  #suggestion: BodySuggestion | null = null;
  #chooser: BodyChooser | null = null;

  load(character: Character, patch: DocumentPatch, request: SuggestionRequest): void {
    this.#suggestion = new BodySuggestion(openPatch(patch), character, request);
  }

  fit(part: { index: number; count: number }, onShare: OnShare): Candidate[] {
    return finishWork(this.#suggestion!.fit(part), onShare);
  }

  measure(bodies: readonly PlacedShape[], clip: number, onShare: OnShare): Demand {
    return finishWork(
      this.#suggestion!.measure(bodies, clip, () => performance.now()),
      onShare,
    );
  }

  /** Of the first worker: what is to be simulated first. */
  choose(candidates: readonly Candidate[]): readonly PlacedShape[] {
    this.#chooser = this.#suggestion!.createChooser(candidates);
    return this.#chooser.bodies;
  }

  /** What is to be simulated after that; null at the end. */
  next(demands: readonly Demand[]): readonly PlacedShape[] | null {
    return this.#chooser!.take(demands) ? this.#chooser!.bodies : null;
  }
}

export type BodiesApi = BodiesLoop;

expose(new BodiesLoop());
