import type { MessagePort } from 'node:worker_threads';
import {
  type AuthoredDocument,
  applyPatch,
  createDocument,
  type DocumentPatch,
  listGarments,
} from '../../core/document/index.ts';
import { adoptSections, type Character, type SharedSection } from '../../core/rig/index.ts';
import { GarmentCache, setUpRun } from '../../core/run/index.ts';
import { applyChanges, type VariableChanges } from '../../core/search/index.ts';
import {
  type CaseRows,
  collectRows,
  createCaseDocument,
  nameCase,
  runTrial,
  type TrialCase,
  type TrialFrame,
} from '../../core/trials/index.ts';

/** What a thread is to measure. Sections stand in memory that all threads see. */
export interface TrialTask {
  /** Names the character and the document: what was made of them is kept for the next case. */
  key: string;
  character: Omit<Character, 'sections'>;
  sections: readonly SharedSection[];
  patch: DocumentPatch;
  trialCase: TrialCase;
  /** What is other than in the document, for this case alone. */
  changes?: VariableChanges;
  /** Told how many frames are measured. */
  port: MessagePort;
}

export interface MeasuredCase {
  rows: CaseRows;
  /** That it took. */
  seconds: number;
}

interface Known {
  key: string;
  character: Character;
  document: AuthoredDocument;
  cache: GarmentCache;
}

/** Frames are told of so often, ms. */
const TELL_EVERY_MS = 100;

let known: Known | null = null;

/** Entry of the threads: measures one case. */
export default function measureCase({ trialCase, changes, port, ...task }: TrialTask): MeasuredCase {
  const start = performance.now();
  try {
    known = known?.key === task.key ? known : take(task);
    const { character, cache } = known;
    const document = changes ? applyChanges(known.document, changes) : known.document;
    const setup = setUpRun(createCaseDocument(document, trialCase), character, { cache });
    const frames: TrialFrame[] = [];
    let toldAt = performance.now();
    for (const frame of runTrial(setup, { ...trialCase, clock: () => performance.now() })) {
      frames.push(frame);
      if (performance.now() - toldAt < TELL_EVERY_MS) continue;
      toldAt = performance.now();
      port.postMessage(frames.length);
    }
    const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
    const rows = collectRows(nameCase(trialCase, character), frames, names);
    return { rows, seconds: (performance.now() - start) / 1000 };
  } finally {
    port.close();
  }
}

function take({ key, character, sections, patch }: Omit<TrialTask, 'trialCase' | 'changes' | 'port'>): Known {
  const document = createDocument();
  applyPatch(document, patch);
  return {
    key,
    character: adoptSections({ ...character, sections: [] }, sections),
    document,
    cache: new GarmentCache(),
  };
}
