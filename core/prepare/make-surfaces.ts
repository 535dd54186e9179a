import { type AuthoredDocument, findSection, listSteps, type RecordId } from '../document/index.ts';
import type { Preparation } from './preparation.ts';
import { makeSimSurface, packSurface } from './steps/make-sim-mesh.ts';

/**
 * Makes the surfaces of the sim meshes that have none beside their step yet, each on the character as it is before the
 * step, and keeps them in the document.
 *
 * @returns What was made, to be saved.
 * @throws {RangeError} When a section is not there, or cannot be remeshed.
 */
export function makeSurfaces(
  preparation: Preparation,
  document: AuthoredDocument,
  onProgress: (share: number) => void = () => {},
): [RecordId, Float32Array][] {
  const made: [RecordId, Float32Array][] = [];
  for (const step of listSteps(document)) {
    if (step.act.kind !== 'makeSimMesh' || document.arrays.has(step.id)) continue;
    const records = [...document.records].filter(
      ([, record]) => record.type !== 'step' || record.order < step.order,
    );
    const before = preparation.update({ records: new Map(records), arrays: document.arrays }).character;
    const sections = [step, ...step.act.others].map((name) => {
      const index = findSection(before, name);
      if (index < 0) throw new RangeError(`there is no section "${name.sectionName}"`);
      return index;
    });
    const surface = packSurface(makeSimSurface(before, sections, step.act, onProgress));
    document.arrays.set(step.id, surface);
    made.push([step.id, surface]);
  }
  return made;
}
