import { number, string } from 'yup';
import type { SectionName } from '../../rig/index.ts';
import { sectionIndexField, sectionNameField } from '../../steps/index.ts';
import { GROUP_COUNT, MOST_MARGIN } from './body.ts';
import { idField, type RecordDefinition, type RecordId, titleField } from './record-definition.ts';

/** A skinned mesh that cloth is kept out of, among the bodies of a set. */
export interface BodyMeshRecord extends SectionName {
  type: 'bodyMesh';
  id: RecordId;
  bodySetId: RecordId;
  name: string;
  /** Step that made its section; null for one that came with the file. */
  stepId: RecordId | null;
  /** How much farther off it than the fabric's thickness cloth is kept, m. */
  margin: number;
  /** Collision group that it is in, from 1, as a body's. */
  group: number;
}

export const bodyMeshDefinition: RecordDefinition<BodyMeshRecord> = {
  type: 'bodyMesh',
  words: ['body mesh', 'body meshes'],
  fields: {
    bodySetId: idField,
    name: titleField,
    stepId: string().nullable().defined().min(1).max(80),
    sectionIndex: sectionIndexField,
    sectionName: sectionNameField,
    margin: number().required().min(0).max(MOST_MARGIN),
    group: number().required().integer().min(1).max(GROUP_COUNT),
  },
  fieldWords: {
    name: 'name',
    sectionName: 'section',
    margin: 'margin',
    group: 'collision group',
    bodySetId: 'body set',
  },
  references: { bodySetId: 'bodySet' },
  tellName: ({ name }) => name,
  raises: [],
};
