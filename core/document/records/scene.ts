import { lazy, number, object, string } from 'yup';
import type { WindSettings } from '../../cloth/index.ts';
import type { MorphValues } from '../../rig/index.ts';
import type { RecordDefinition, RecordId } from './record-definition.ts';

/** One per character. */
export interface SceneRecord extends WindSettings {
  type: 'scene';
  id: RecordId;
  /** Name of the clip that was last looked at; null for the bind pose. */
  clipName: string | null;
  /** Milliseconds a frame that cloth may cost. */
  budgetMilliseconds: number;
  /** Values of morph targets by name, in which the character is looked at and measured. */
  morphs: MorphValues;
}

export const SCENE_ID = 'scene' as RecordId;

export const SCENE_DEFAULTS: Readonly<SceneRecord> = {
  type: 'scene',
  id: SCENE_ID,
  clipName: null,
  windSpeed: 0,
  windDirection: 180,
  windGusts: 0.4,
  windTurbulence: 0.3,
  budgetMilliseconds: 12,
  morphs: {},
};

export const sceneDefinition: RecordDefinition<SceneRecord> = {
  type: 'scene',
  words: ['scene', 'scenes'],
  fields: {
    clipName: string().nullable().defined().max(400),
    windSpeed: number().required().min(0).max(50),
    windDirection: number().required().min(-360).max(360),
    windGusts: number().required().min(0).max(1),
    windTurbulence: number().required().min(0).max(1),
    budgetMilliseconds: number().required().min(0.01).max(1000),
    morphs: lazy((value: object | undefined) =>
      object(
        Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, number().required().min(-1).max(2)])),
      )
        .noUnknown()
        .required(),
    ) as never,
  },
  fieldWords: {
    windSpeed: 'wind',
    windDirection: 'wind direction',
    windGusts: 'gusts',
    windTurbulence: 'turbulence',
    budgetMilliseconds: 'budget',
    morphs: 'body shape',
  },
  tellName: () => 'Scene',
  raises: [
    {
      to: 1,
      name: 'gusts, turbulence, budget and body shape; before there were gusts the wind was steady',
      raise: (record) => ({ ...SCENE_DEFAULTS, windGusts: 0, windTurbulence: 0, ...record }),
    },
  ],
};
