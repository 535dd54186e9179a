import {
  BodySuggestion,
  type Candidate,
  type Demand,
  type PlacedShape,
  type SuggestionRequest,
} from '../../../core/suggest/index.ts';
import { finish } from './finish.ts';
import type { KnownSubject } from './subject.ts';

/** Fits bodies to the share of the skin that is one part's. */
export interface FitBodiesJob {
  request: SuggestionRequest;
  part: { index: number; count: number };
}

/** Chooses the set that is to be simulated next, from all that is known. */
export interface ChooseBodiesJob {
  request: SuggestionRequest;
  /** Of all parts, in their order. */
  candidates: readonly Candidate[];
  /** What each set that was tried left open on the clips, in the order of trying. */
  tried: readonly (readonly Demand[])[];
}

/** Simulates a clip with a set in the place of the one that is there. */
export interface MeasureBodiesJob {
  request: SuggestionRequest;
  bodies: readonly PlacedShape[];
  clip: number;
}

/** @param onDone - Told the share that is done. */
export function fitBodies(
  known: KnownSubject,
  { request, part }: FitBodiesJob,
  onDone: (share: number) => void,
): Candidate[] {
  return finish(open(known, request).fit(part), onDone);
}

/** @returns The set; null when the goal is reached, or nothing is left that helps. */
export function chooseBodies(
  known: KnownSubject,
  { request, candidates, tried }: ChooseBodiesJob,
): readonly PlacedShape[] | null {
  // Chosen anew from the beginning: it is quick, and whoever chooses needs nothing but what is stored.
  const chooser = open(known, request).createChooser(candidates);
  for (const demands of tried) if (!chooser.take(demands)) return null;
  return chooser.bodies;
}

/** @param onDone - Told the share that is done. */
export function measureBodies(
  known: KnownSubject,
  { request, bodies, clip }: MeasureBodiesJob,
  onDone: (share: number) => void,
): Demand {
  return finish(open(known, request).measure(bodies, clip), onDone);
}

function open(known: KnownSubject, request: SuggestionRequest): BodySuggestion {
  const name = JSON.stringify(request);
  if (known.suggestion?.request !== name)
    known.suggestion = {
      request: name,
      parts: new BodySuggestion(known.document, known.character, request),
    };
  return known.suggestion.parts;
}
