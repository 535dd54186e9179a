import { expose } from 'comlink';
import { type DocumentPatch, openPatch, type RecordId } from '../../core/document/index.ts';
import type { PointSet } from '../../core/reach/index.ts';
import type { Character } from '../../core/rig/index.ts';
import { findSeam, setUpRun, suggestReach } from '../../core/run/index.ts';
import { finishWork } from './finish-work.ts';

/** What is to be suggested, and from what. */
export interface SuggestRequest {
  character: Character;
  patch: DocumentPatch;
  garmentId: RecordId;
  /** Null: what is held, or the highest border. */
  seam: PointSet | null;
}

/** Values of max distance for a garment, one for each welded vertex. @param onProgress - Told with the share that is done. */
function suggest(
  { character, patch, garmentId, seam }: SuggestRequest,
  onProgress: (share: number) => unknown,
): Float32Array {
  const document = openPatch(patch);
  const setup = setUpRun(document, character);
  const bound = setup.garments.find(({ id }) => id === garmentId);
  if (!bound) throw new RangeError('The garment is not worn: it has no section to suggest a map for.');
  const suggestion = suggestReach(setup, {
    garmentId,
    seam: seam ?? findSeam(bound),
    clips: [...setup.character.clips.keys()],
  });
  return finishWork(suggestion, onProgress);
}

export const suggestApi = { suggest };
export type SuggestApi = typeof suggestApi;

expose(suggestApi);
