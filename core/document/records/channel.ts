import { boolean, string } from 'yup';
import { CHANNEL_KINDS, CHANNELS, type ChannelKind } from '../../reach/index.ts';
import {
  idField,
  indexField,
  type RecordDefinition,
  type RecordId,
  titleField,
} from './record-definition.ts';

/**
 * A map: values of one channel at every welded vertex of a garment; the values themselves are an array beside the
 * record. A garment may have several of a kind, of which one is in use.
 */
export interface ChannelRecord {
  type: 'channel';
  id: RecordId;
  garmentId: RecordId;
  kind: ChannelKind;
  name: string;
  isInUse: boolean;
  pointCount: number;
}

export const channelDefinition: RecordDefinition<ChannelRecord> = {
  type: 'channel',
  words: ['map', 'maps'],
  fields: {
    garmentId: idField,
    kind: string()
      .oneOf([...CHANNEL_KINDS])
      .required(),
    isInUse: boolean().required(),
    name: titleField,
    pointCount: indexField,
  },
  fieldWords: { name: 'name', isInUse: 'use', pointCount: 'vertices' },
  references: { garmentId: 'garment' },
  hasArray: true,
  tellName: ({ kind, name }) => `${CHANNELS[kind].label} "${name}"`,
  check: ({ kind, pointCount }, { values, indices, length }) => {
    if (length !== pointCount) return `it is of ${pointCount} vertices and has ${length} values`;
    // The ends of the range as the values are kept.
    const [low, high] = CHANNELS[kind].range.map(Math.fround) as [number, number];
    const out = values?.findIndex((value) => value < low || value > high) ?? -1;
    if (out < 0) return null;
    return `its value at vertex ${indices?.[out] ?? out} (${values![out]}) is not within ${low} to ${high}`;
  },
  raises: [
    {
      to: 1,
      name: 'several maps of a channel, of which one is in use',
      raise: (record) => ({ isInUse: true, ...record }),
    },
  ],
};
