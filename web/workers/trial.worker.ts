import { expose } from 'comlink';
import type { Pricing } from '../../core/cost/index.ts';
import { applyPatch, createDocument, type DocumentPatch } from '../../core/document/index.ts';
import {
  adoptRig,
  adoptSections,
  type Character,
  type Rig,
  type SharedSection,
} from '../../core/rig/index.ts';
import { type CompiledEntry, GarmentCache, setUpRun } from '../../core/run/index.ts';
import { runTrial, type TrialFrame } from '../../core/trials/index.ts';
import { createFrameHelpers } from './create-frame-helpers.ts';

/** Works this long before it looks for newer requests. */
const SLICE_MS = 40;

/** Follows the document and measures clips; a newer measuring ends the one before. */
class TrialLoop {
  #character: Character | null = null;
  readonly #document = createDocument();
  /** A change of one garment compiles no other. */
  readonly #cache = new GarmentCache();
  /** Where there are cores besides those that play and draw. */
  readonly #helpers = createFrameHelpers(1);
  #newest = 0;

  load(character: Character, patch: DocumentPatch): void {
    this.#character = character;
    applyPatch(this.#document, patch);
  }

  /** @param rig - Null: joints and clips stay. @param compiled - What was compiled of the sections elsewhere. */
  patch(
    patch: DocumentPatch,
    sections: readonly SharedSection[] | null,
    rig: Rig | null,
    compiled: readonly CompiledEntry[],
  ): void {
    applyPatch(this.#document, patch);
    this.#cache.adopt(compiled);
    if (sections && this.#character)
      this.#character = adoptSections(adoptRig(this.#character, rig), sections);
  }

  stop(): void {
    this.#newest++;
  }

  /** @param pricing - What work is priced by. @param onFrames - Told as they are measured. @returns False when something newer came before the end. */
  async measure(
    clip: number,
    pricing: Pricing,
    onFrames: (frames: TrialFrame[]) => unknown,
  ): Promise<boolean> {
    const own = ++this.#newest;
    if (!this.#character) return false;
    const setup = setUpRun(this.#document, this.#character, { cache: this.#cache });
    let frames: TrialFrame[] = [];
    let sliceEnd = performance.now() + SLICE_MS;
    for (const frame of runTrial(setup, {
      motion: { kind: 'clip', clip },
      glances: true,
      pricing,
      clock: () => performance.now(),
      helpers: this.#helpers,
    })) {
      frames.push(frame);
      if (performance.now() < sliceEnd) continue;
      onFrames(frames);
      frames = [];
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (own !== this.#newest) return false;
      sliceEnd = performance.now() + SLICE_MS;
    }
    // The last rows arrive before the answer.
    await onFrames(frames);
    return own === this.#newest;
  }
}

export type TrialApi = TrialLoop;

expose(new TrialLoop());
