import { string } from 'yup';
import { type RecordDefinition, type RecordId, titleField } from './record-definition.ts';

/** What bodies do when the character takes another body shape: move with the skin around them, are fitted anew, or stay. */
export const BODY_FOLLOWS = ['skin', 'fit', 'nothing'] as const;
export type BodyFollows = (typeof BODY_FOLLOWS)[number];

export interface BodySetRecord {
  type: 'bodySet';
  id: RecordId;
  name: string;
  follows: BodyFollows;
}

/** What a set has that says nothing of it. */
export const BODY_SET_DEFAULTS = { follows: 'skin' } as const satisfies Partial<BodySetRecord>;

export const bodySetDefinition: RecordDefinition<BodySetRecord> = {
  type: 'bodySet',
  words: ['body set', 'body sets'],
  fields: { name: titleField, follows: string().oneOf(BODY_FOLLOWS).required() },
  fieldWords: { name: 'name', follows: 'what bodies do with the body shape' },
  tellName: ({ name }) => name,
  complete: (record) => ({ ...BODY_SET_DEFAULTS, ...record }),
  raises: [],
};
