import { number, string } from 'yup';
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
  /** Added to the shape all around, m. */
  margin: number;
  /** Collision group that it is in, from 1: garments meet the groups that they name. */
  group: number;
}

/** Margin of a body at most, m. */
export const MOST_MARGIN = 0.1;

/** Groups that bodies can be in. */
export const GROUP_COUNT = 8;

/** A group, from 1, as a bit of the groups that a garment meets. */
export function groupBit(group: number): number {
  return 1 << (group - 1);
}

/** All groups. */
export const ALL_BODY_GROUPS = 2 ** GROUP_COUNT - 1;

/** What a body has that says nothing of it. */
export const BODY_DEFAULTS = { margin: 0, group: 1 } as const satisfies Partial<BodyRecord>;

export const bodyDefinition: RecordDefinition<BodyRecord> = {
  type: 'body',
  words: ['body', 'bodies'],
  fields: {
    bodySetId: idField,
    name: titleField,
    jointName: string().required().max(400),
    shape: createShapeField(),
    margin: number().required().min(0).max(MOST_MARGIN),
    group: number().required().integer().min(1).max(GROUP_COUNT),
  },
  fieldWords: {
    name: 'name',
    jointName: 'joint',
    shape: 'shape',
    margin: 'margin',
    group: 'collision group',
    bodySetId: 'body set',
  },
  references: { bodySetId: 'bodySet' },
  tellName: ({ name }) => name,
  check: ({ jointName }, { jointNames }) =>
    jointNames.has(jointName) ? null : `it sits on joint "${jointName}", which the character lacks`,
  complete: (record) => ({ ...BODY_DEFAULTS, ...record }),
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
