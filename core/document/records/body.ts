import { string } from 'yup';
import { type BodyShape, createShapeField } from '../../bodies/index.ts';
import { idField, type RecordDefinition, type RecordId, titleField } from './record-definition.ts';

export interface BodyRecord {
  type: 'body';
  id: RecordId;
  bodySetId: RecordId;
  name: string;
  /** Joint that it sits on. */
  jointName: string;
  shape: BodyShape;
}

export const bodyDefinition: RecordDefinition<BodyRecord> = {
  type: 'body',
  words: ['body', 'bodies'],
  fields: {
    bodySetId: idField,
    name: titleField,
    jointName: string().required().max(400),
    shape: createShapeField(),
  },
  fieldWords: { name: 'name', jointName: 'joint', shape: 'shape', bodySetId: 'body set' },
  references: { bodySetId: 'bodySet' },
  tellName: ({ name }) => name,
  check: ({ jointName }, { jointNames }) =>
    jointNames.has(jointName) ? null : `it sits on joint "${jointName}", which the character lacks`,
  raises: [
    {
      to: 2,
      name: 'bodies name their joint, and no place in the skeleton',
      raise: (record) => {
        const { node: _node, ...shape } = record.shape as { node?: number };
        return { ...record, shape };
      },
    },
  ],
};
