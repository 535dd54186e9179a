import { type AuthoredDocument, listSteps, type RecordId } from '../document/index.ts';
import { hasMadeArray, makeArrayOf } from '../steps/index.ts';
import { createStepContext } from './apply-step.ts';
import type { Preparation } from './preparation.ts';

/**
 * Makes the numbers that belong beside steps and are not there yet (surfaces of sim meshes), each on the character as it
 * is before the step, and keeps them in the document.
 *
 * @returns What was made, to be saved.
 * @throws {RangeError} When a section is not there, or cannot be remeshed.
 */
export function makeArrays(
  preparation: Preparation,
  document: AuthoredDocument,
  onProgress: (share: number) => void = () => {},
): [RecordId, Float32Array][] {
  const made: [RecordId, Float32Array][] = [];
  for (const step of listSteps(document)) {
    if (!hasMadeArray(step.act) || document.arrays.has(step.id)) continue;
    const records = [...document.records].filter(
      ([, record]) => record.type !== 'step' || record.order < step.order,
    );
    const before = preparation.update({ records: new Map(records), arrays: document.arrays }).character;
    const array = makeArrayOf(createStepContext(before, step, document, onProgress), step.act);
    document.arrays.set(step.id, array);
    made.push([step.id, array]);
  }
  return made;
}
