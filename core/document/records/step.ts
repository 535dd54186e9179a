import { lazy, mixed, number } from 'yup';
import type { SectionName } from '../../rig/index.ts';
import {
  describeAct,
  getActSchema,
  type StepAct,
  sectionIndexField,
  sectionNameField,
} from '../../steps/index.ts';
import type { RecordDefinition, RecordId } from './record-definition.ts';

/**
 * One step in the preparation of a character's sections. Steps are replayed on the source in their order, so the source
 * is never altered, and a new version of it runs through the same steps.
 */
export interface StepRecord extends SectionName {
  type: 'step';
  id: RecordId;
  order: number;
  act: StepAct;
}

export const stepDefinition: RecordDefinition<StepRecord> = {
  type: 'step',
  words: ['preparation step', 'preparation steps'],
  fields: {
    sectionIndex: sectionIndexField,
    sectionName: sectionNameField,
    order: number().required(),
    act: lazy(
      (value: { kind?: unknown } | undefined) =>
        getActSchema(value?.kind) ??
        mixed().test('kind', `"${value?.kind}" is not a step of preparation`, () => false),
    ) as never,
  },
  fieldWords: { act: 'settings', order: 'order', sectionName: 'section' },
  hasArray: true,
  tellName: ({ act, sectionName }) => `${sectionName}: ${describeAct(act)}`,
  raises: [],
};
