import { type AuthoredDocument, listSteps, type RecordId, type StepRecord } from '../document/index.ts';
import type { Character } from '../rig/index.ts';
import { applyStep } from './apply-step.ts';

export interface StepProblem {
  stepId: RecordId;
  sectionName: string;
  /** Why the step could not be applied. */
  reason: string;
}

/** A step that was applied, and what is wrong with what it made. */
export interface StepFaults {
  stepId: RecordId;
  sentences: readonly string[];
}

export interface Prepared {
  character: Character;
  /** The source as it is placed, before anything else is done to it; the source itself when it is not. */
  placed: Character;
  /** Steps that were left out. */
  problems: StepProblem[];
  /** Steps that made something which is not well. */
  faults: StepFaults[];
  /** Step → sections that it made, by their places. */
  made: ReadonlyMap<RecordId, readonly number[]>;
}

interface Done {
  step: StepRecord;
  array: Float32Array | undefined;
  after: Character;
  made: readonly number[];
  problem: StepProblem | null;
  faults: readonly string[];
}

/**
 * Replays the steps of preparation on a source. Remembers the character after each step: only what follows the first
 * changed step is computed again.
 */
export class Preparation {
  readonly source: Character;
  #done: Done[] = [];

  constructor(source: Character) {
    this.source = source;
  }

  /**
   * @param onProgress - Called with the share done of the steps that have to be computed.
   * A step that cannot be applied is left out and told; the rest goes on.
   */
  update(document: AuthoredDocument, onProgress: (share: number) => void = () => {}): Prepared {
    const steps = listSteps(document);
    let kept = 0;
    while (kept < steps.length && this.#isDone(kept, steps[kept]!, document)) kept++;
    this.#done.length = kept;
    for (let i = kept; i < steps.length; i++) {
      const before = this.#done[i - 1]?.after ?? this.source;
      const report = (share: number): void => onProgress((i - kept + share) / (steps.length - kept));
      this.#done.push(this.#apply(before, steps[i]!, document, report));
    }
    return {
      character: this.#done[this.#done.length - 1]?.after ?? this.source,
      placed: this.#done[0]?.step.act.kind === 'place' ? this.#done[0].after : this.source,
      problems: this.#done.flatMap(({ problem }) => (problem ? [problem] : [])),
      faults: this.#done.flatMap(({ step, faults }) =>
        faults.length > 0 ? [{ stepId: step.id, sentences: faults }] : [],
      ),
      made: new Map(this.#done.map(({ step, made }) => [step.id, made])),
    };
  }

  #isDone(at: number, step: StepRecord, document: AuthoredDocument): boolean {
    const done = this.#done[at];
    return (
      done !== undefined &&
      isSame(done.array, document.arrays.get(step.id)) &&
      JSON.stringify(done.step) === JSON.stringify(step)
    );
  }

  #apply(
    before: Character,
    step: StepRecord,
    document: AuthoredDocument,
    report: (share: number) => void,
  ): Done {
    const array = document.arrays.get(step.id);
    try {
      const { character, made, faults = [] } = applyStep(before, step, document, report);
      return { step, array, after: character, made, problem: null, faults };
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      const problem = { stepId: step.id, sectionName: step.sectionName, reason: error.message };
      return { step, array, after: before, made: [], problem, faults: [] };
    }
  }
}

function isSame(p: Float32Array | undefined, q: Float32Array | undefined): boolean {
  return p === q || (p?.length === q?.length && p !== undefined && p.every((value, i) => value === q![i]));
}

/** A source with all steps of a document applied; the source itself when there are none. */
export function prepareCharacter(source: Character, document: AuthoredDocument): Prepared {
  return new Preparation(source).update(document);
}
