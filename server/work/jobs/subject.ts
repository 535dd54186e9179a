import {
  type AuthoredDocument,
  applyPatch,
  createDocument,
  type DocumentPatch,
} from '../../../core/document/index.ts';
import type { SurfaceCache } from '../../../core/prepare/index.ts';
import { adoptSections, type Character, type SharedSection } from '../../../core/rig/index.ts';
import { GarmentCache } from '../../../core/run/index.ts';
import type { BodySuggestion } from '../../../core/suggest/index.ts';

/** A character and a document, ready to be worked on by any thread. Sections stand in memory that all threads see. */
export interface Subject {
  /** Names the character and the document: what was made of them is kept for the next job. */
  key: string;
  character: Omit<Character, 'sections'>;
  sections: readonly SharedSection[];
  patch: DocumentPatch;
}

/** A subject as a thread has it, with what was made of it. */
export interface KnownSubject {
  key: string;
  character: Character;
  document: AuthoredDocument;
  cache: GarmentCache;
  /** Meshes of levels of detail that were made. */
  surfaces?: SurfaceCache;
  /** The last suggestion of bodies, by its request. */
  suggestion?: { request: string; parts: BodySuggestion };
}

export function openSubject({ key, character, sections, patch }: Subject): KnownSubject {
  const document = createDocument();
  applyPatch(document, patch);
  return {
    key,
    character: adoptSections({ ...character, sections: [] }, sections),
    document,
    cache: new GarmentCache(),
  };
}
