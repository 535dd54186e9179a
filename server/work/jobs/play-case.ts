import type { Pricing } from '../../../core/cost/index.ts';
import { type AuthoredDocument, listGarments } from '../../../core/document/index.ts';
import type { Character } from '../../../core/rig/index.ts';
import { type GarmentCache, type LevelChoice, setUpRun } from '../../../core/run/index.ts';
import {
  type CaseRows,
  collectRows,
  createCaseDocument,
  nameCase,
  runTrial,
  type TrialCase,
  type TrialFrame,
} from '../../../core/trials/index.ts';

/** What a case is played with. */
export interface Played {
  /** Prepared. */
  character: Character;
  document: AuthoredDocument;
  cache: GarmentCache;
  /** Garments that are at a level of detail; default: all as they are. */
  levels?: LevelChoice;
  /** What work is priced by; that of the reference machine when left out. */
  pricing?: Pricing | undefined;
}

/** Plays one case of a trial and measures it. @param onFrame - Told how many frames are measured. */
export function playCase(
  { character, document, cache, levels, pricing }: Played,
  trialCase: TrialCase,
  onFrame: (frames: number) => void,
): CaseRows {
  const setup = setUpRun(createCaseDocument(document, trialCase), character, {
    cache,
    ...(levels && { levels }),
  });
  const frames: TrialFrame[] = [];
  const clock = (): number => performance.now();
  for (const frame of runTrial(setup, { ...trialCase, clock, ...(pricing && { pricing }) })) {
    frames.push(frame);
    onFrame(frames.length);
  }
  const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
  return collectRows(nameCase(trialCase, character), frames, names);
}
