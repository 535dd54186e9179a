import { array, lazy, number, object, string } from 'yup';
import type { WindSettings } from '../../cloth/index.ts';
import { HEALTH_LIMITS, type HealthLimits } from '../../mesh/index.ts';
import { type MorphValues, SIDE_PAIRS, type SidePair } from '../../rig/index.ts';
import { LONGEST_LEVEL_SWITCH } from './level.ts';
import { type Limits, limitsField } from './limits.ts';
import type { RecordDefinition, RecordId } from './record-definition.ts';

/** One per character. */
export interface SceneRecord extends WindSettings {
  type: 'scene';
  id: RecordId;
  /** Name of the clip that was last looked at; null for the bind pose. */
  clipName: string | null;
  /** Milliseconds a frame that cloth may cost; null: as the target profile says. */
  budgetMilliseconds: number | null;
  /** Values of morph targets by name, in which the character is looked at and measured. */
  morphs: MorphValues;
  /** Limits of the checks of meshes, where they are not the standard ones. */
  healthLimits: Partial<HealthLimits>;
  /** Limits of trials for all garments, where they are not the starting ones. */
  trialLimits: Limits;
  /** Seconds in which garments go over from one level of detail to another. */
  levelSwitchSeconds: number;
  /** What marks left and right in joint names, see `mirrorName`. */
  sidePairs: readonly SidePair[];
  /** Where the character faces, degrees about the vertical from +Z towards +X; null: as its feet say, see `findFront`. */
  front: number | null;
}

export const SCENE_ID = 'scene' as RecordId;

/** Long enough that no step is seen, short enough that two levels seldom cost together. */
const LEVEL_SWITCH_SECONDS = 0.3;

export const SCENE_DEFAULTS: Readonly<SceneRecord> = {
  type: 'scene',
  id: SCENE_ID,
  clipName: null,
  windSpeed: 0,
  windDirection: 180,
  windGusts: 0.4,
  windTurbulence: 0.3,
  budgetMilliseconds: null,
  morphs: {},
  healthLimits: {},
  trialLimits: {},
  levelSwitchSeconds: LEVEL_SWITCH_SECONDS,
  sidePairs: SIDE_PAIRS,
  front: null,
};

/** ms, what a character began with before there were target profiles. */
const EARLIER_BUDGET = 12;

export const sceneDefinition: RecordDefinition<SceneRecord> = {
  type: 'scene',
  words: ['scene', 'scenes'],
  fields: {
    clipName: string().nullable().defined().max(400),
    windSpeed: number().required().min(0).max(50),
    windDirection: number().required().min(-360).max(360),
    windGusts: number().required().min(0).max(1),
    windTurbulence: number().required().min(0).max(1),
    budgetMilliseconds: number().nullable().defined().min(0.01).max(1000),
    morphs: lazy((value: object | undefined) =>
      object(
        Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, number().required().min(-1).max(2)])),
      )
        .noUnknown()
        .required(),
    ) as never,
    healthLimits: object(
      Object.fromEntries(
        HEALTH_LIMITS.map(({ name, least, most }) => [name, number().optional().min(least).max(most)]),
      ),
    )
      .noUnknown()
      .required(),
    trialLimits: limitsField,
    levelSwitchSeconds: number().required().min(0).max(LONGEST_LEVEL_SWITCH),
    sidePairs: array(array(string().required().min(1).max(40)).length(2).required())
      .required()
      .max(20),
    front: number().nullable().defined().min(0).max(360),
  },
  fieldWords: {
    windSpeed: 'wind',
    windDirection: 'wind direction',
    windGusts: 'gusts',
    windTurbulence: 'turbulence',
    budgetMilliseconds: 'budget',
    morphs: 'body shape',
    healthLimits: 'limits of the mesh checks',
    trialLimits: 'limits of trials',
    levelSwitchSeconds: 'time between levels of detail',
    sidePairs: 'side names',
    front: 'front',
  },
  tellName: () => 'Scene',
  complete: (record) => ({
    healthLimits: {},
    trialLimits: {},
    levelSwitchSeconds: LEVEL_SWITCH_SECONDS,
    sidePairs: SIDE_PAIRS,
    front: null,
    ...record,
  }),
  raises: [
    {
      to: 1,
      name: 'gusts, turbulence, budget and body shape; before there were gusts the wind was steady',
      raise: (record) => ({ ...SCENE_DEFAULTS, windGusts: 0, windTurbulence: 0, ...record }),
    },
    {
      to: 5,
      name: 'a budget of its own only where one was typed; what was there by itself is that of the target profile',
      raise: (record) =>
        record.budgetMilliseconds === EARLIER_BUDGET ? { ...record, budgetMilliseconds: null } : record,
    },
  ],
};
