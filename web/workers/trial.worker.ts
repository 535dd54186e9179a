import { getScene, listBodySections } from '../../core/document/index.ts';
import { type Character, shapeCharacter, unpackCharacter } from '../../core/rig/index.ts';
import { setUpGarments } from '../../core/run/index.ts';
import { runTrial, type TrialFrame } from '../../core/trials/index.ts';
import { DocumentMirror } from './document-mirror.ts';
import type { DocumentPatch } from './preview-protocol.ts';

export type TrialRequest =
  | { kind: 'load'; packed: ArrayBuffer; patch: DocumentPatch }
  | { kind: 'patch'; patch: DocumentPatch; packed?: ArrayBuffer }
  /** Measures a clip anew; null stops. */
  | { kind: 'measure'; clip: number | null; token: number };

export type TrialReply =
  | { kind: 'frames'; token: number; frames: TrialFrame[]; isDone: boolean }
  | { kind: 'failed'; token: number; message: string };

/** Works this long before it looks for newer requests. */
const SLICE_MS = 40;

let character: Character | null = null;
const mirror = new DocumentMirror();
let current = 0;

addEventListener('message', ({ data }: MessageEvent<TrialRequest>) => {
  if (data.kind === 'load') {
    character = unpackCharacter(data.packed);
    mirror.apply(data.patch);
  } else if (data.kind === 'patch') {
    mirror.apply(data.patch);
    if (data.packed) character = unpackCharacter(data.packed);
  } else {
    current = data.token;
    if (data.clip !== null) void measure(data.clip, data.token);
  }
});

async function measure(clip: number, token: number): Promise<void> {
  if (!character) return;
  const { document } = mirror;
  try {
    const shaped = shapeCharacter(character, getScene(document).morphs);
    const trial = runTrial(shaped, setUpGarments(shaped, document), {
      clip,
      bodySections: listBodySections(document, shaped),
      wind: getScene(document),
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
