import { type AuthoredDocument, listBodySections, type StepRecord } from '../document/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { applyAct, isOfWhole, type StepContext, type StepResult } from '../steps/index.ts';

/**
 * What a step of preparation works on.
 *
 * @param document - For what a step needs beside itself: which sections are body, and numbers kept beside steps.
 * @throws {RangeError} When its section is not there.
 */
export function createStepContext(
  character: Character,
  step: StepRecord,
  document: AuthoredDocument,
  onProgress: (share: number) => void = () => {},
): StepContext {
  const sectionIndex = findSection(character, step);
  if (sectionIndex < 0 && !isOfWhole(step.act))
    throw new RangeError(`there is no section "${step.sectionName}"`);
  return {
    character,
    sectionIndex,
    array: document.arrays.get(step.id),
    listBody: () => listBodySections(document, character),
    onProgress,
  };
}

/**
 * The character after one step of preparation, and which sections the step made. Shares every section that it does not
 * touch.
 *
 * @throws {RangeError} When the step cannot be applied to this character, with the reason.
 */
export function applyStep(
  character: Character,
  step: StepRecord,
  document: AuthoredDocument,
  onProgress?: (share: number) => void,
): StepResult {
  return applyAct(createStepContext(character, step, document, onProgress), step.act);
}
