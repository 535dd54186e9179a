import { type RecordDefinition, type RecordId, titleField } from './record-definition.ts';

export interface BodySetRecord {
  type: 'bodySet';
  id: RecordId;
  name: string;
}

export const bodySetDefinition: RecordDefinition<BodySetRecord> = {
  type: 'bodySet',
  words: ['body set', 'body sets'],
  fields: { name: titleField },
  fieldWords: { name: 'name' },
  tellName: ({ name }) => name,
  raises: [],
};
