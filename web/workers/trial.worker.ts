import { applyPatch, createDocument, type DocumentPatch } from '../../core/document/index.ts';
import { adoptSections, type Character, type SharedSection } from '../../core/rig/index.ts';
import { GarmentCache, setUpRun } from '../../core/run/index.ts';
import { runTrial, type TrialFrame } from '../../core/trials/index.ts';

export type TrialRequest =
  | { kind: 'load'; character: Character; patch: DocumentPatch }
  | { kind: 'patch'; patch: DocumentPatch; sections?: readonly SharedSection[] }
  /** Measures a clip anew; null stops. */
  | { kind: 'measure'; clip: number | null; token: number };

export type TrialReply =
  | { kind: 'frames'; token: number; frames: TrialFrame[]; isDone: boolean }
  | { kind: 'failed'; token: number; message: string };

/** Works this long before it looks for newer requests. */
const SLICE_MS = 40;

let character: Character | null = null;
const document = createDocument();
/** A change of one garment compiles no other. */
const cache = new GarmentCache();
let current = 0;

addEventListener('message', ({ data }: MessageEvent<TrialRequest>) => {
  if (data.kind === 'load') {
    character = data.character;
    applyPatch(document, data.patch);
  } else if (data.kind === 'patch') {
    applyPatch(document, data.patch);
    if (data.sections && character) character = adoptSections(character, data.sections);
  } else {
    current = data.token;
    if (data.clip !== null) void measure(data.clip, data.token);
  }
});

async function measure(clip: number, token: number): Promise<void> {
  if (!character) return;
  try {
    const trial = runTrial(setUpRun(document, character, { cache }), {
      clip,
      clock: () => performance.now(),
    });
    let frames: TrialFrame[] = [];
    let sliceEnd = performance.now() + SLICE_MS;
    for (const frame of trial) {
      frames.push(frame);
      if (performance.now() < sliceEnd) continue;
      postMessage({ kind: 'frames', token, frames, isDone: false } satisfies TrialReply);
      frames = [];
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (token !== current) return;
      sliceEnd = performance.now() + SLICE_MS;
    }
    postMessage({ kind: 'frames', token, frames, isDone: true } satisfies TrialReply);
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    postMessage({ kind: 'failed', token, message } satisfies TrialReply);
  }
}
