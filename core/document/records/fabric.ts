import { number, object } from 'yup';
import {
  completeFabric,
  FABRIC_DEFAULTS,
  FABRIC_KEYS,
  FABRIC_PARAMETERS,
  type FabricSettings,
  FRAMES_OF_EARLIER_SUBSTEPS,
} from '../../cloth/index.ts';
import { type RecordDefinition, type RecordId, titleField } from './record-definition.ts';

export interface FabricRecord {
  type: 'fabric';
  id: RecordId;
  name: string;
  settings: FabricSettings;
}

export const fabricDefinition: RecordDefinition<FabricRecord> = {
  type: 'fabric',
  words: ['fabric', 'fabrics'],
  fields: {
    name: titleField,
    settings: object(
      Object.fromEntries(
        FABRIC_KEYS.map((key) => {
          const { range, isCount } = FABRIC_PARAMETERS[key];
          const bounded = number().required().min(range[0]).max(range[1]);
          return [key, isCount ? bounded.integer() : bounded];
        }),
      ),
    )
      .noUnknown()
      .required(),
  },
  fieldWords: { name: 'name', settings: 'settings' },
  tellName: ({ name }) => name,
  complete: (record) => ({
    ...record,
    settings: { ...FABRIC_DEFAULTS, ...(record.settings as object) },
  }),
  raises: [
    {
      to: 1,
      name: 'stiffness by direction, shares of root motion',
      raise: (record) => ({ ...record, settings: completeFabric(record.settings as object) }),
    },
    {
      to: 3,
      name: 'foldYield is called plasticYieldAngle',
      raise: (record) => {
        const { foldYield, ...settings } = record.settings as { foldYield?: number };
        return {
          ...record,
          settings: { ...settings, ...(foldYield !== undefined && { plasticYieldAngle: foldYield }) },
        };
      },
    },
    {
      to: 4,
      name: 'substeps are counted by the second',
      raise: (record) => {
        const { substeps, ...settings } = record.settings as { substeps?: number };
        return {
          ...record,
          settings: {
            ...settings,
            ...(substeps !== undefined && { substepsPerSecond: FRAMES_OF_EARLIER_SUBSTEPS * substeps }),
          },
        };
      },
    },
  ],
};
