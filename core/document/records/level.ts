import { array, boolean, number, object, string } from 'yup';
import type { FabricSettings } from '../../cloth/index.ts';
import { idField, type RecordId } from './record-definition.ts';

/** How often a garment is simulated; what is shown between is interpolated. */
export const LEVEL_RATES = ['everyFrame', 'everyOther', 'thirty'] as const;

export type LevelRate = (typeof LEVEL_RATES)[number];

/** A level of detail of a garment: how it is simulated while its character is small on the screen. */
export interface GarmentLevel {
  /** Taken while the character is less than so many pixels high on the screen. */
  pixels: number;
  /** Edges of the sim mesh of this level, m; null: it is simulated on the garment's own. */
  edgeLength: number | null;
  /** Null: as the fabric says. */
  substepsPerSecond: number | null;
  /** Bodies of its set that it does not meet. */
  withoutBodies: readonly RecordId[];
  /** Off, or as the fabric says. */
  selfCollision: boolean;
  rate: LevelRate;
  /** Share of the simulation in what is shown, of the garment's own share; 0: it follows the skin and is not simulated. */
  blend: number;
}

/** A level that changes nothing yet. */
export const PLAIN_LEVEL: Omit<GarmentLevel, 'pixels'> = {
  edgeLength: null,
  substepsPerSecond: null,
  withoutBodies: [],
  selfCollision: true,
  rate: 'everyFrame',
  blend: 1,
};

/** Of one garment. */
export const MOST_LEVELS = 8;
/** What screens show, px. */
export const LEVEL_PIXELS = { least: 1, most: 8192 } as const;
/** Edges of a level's mesh, m. */
export const LEVEL_EDGES = { least: 0.001, most: 10 } as const;
/** As fabrics have them, a second. */
export const LEVEL_SUBSTEPS = { least: 30, most: 1440 } as const;

/** Between two levels, s. */
export const LONGEST_LEVEL_SWITCH = 5;

export const levelsField = array(
  object({
    pixels: number().required().min(LEVEL_PIXELS.least).max(LEVEL_PIXELS.most),
    edgeLength: number().nullable().defined().min(LEVEL_EDGES.least).max(LEVEL_EDGES.most),
    substepsPerSecond: number()
      .integer()
      .nullable()
      .defined()
      .min(LEVEL_SUBSTEPS.least)
      .max(LEVEL_SUBSTEPS.most),
    withoutBodies: array(idField).required().max(1000),
    selfCollision: boolean().required(),
    rate: string().oneOf(LEVEL_RATES).required(),
    blend: number().required().min(0).max(1),
  }).noUnknown(),
)
  .required()
  .max(MOST_LEVELS);

/** A fabric as a level simulates it; without a level as it is. */
export function fabricAtLevel(settings: FabricSettings, level: GarmentLevel | null): FabricSettings {
  if (!level) return settings;
  return {
    ...settings,
    ...(level.substepsPerSecond !== null && { substepsPerSecond: level.substepsPerSecond }),
    ...(!level.selfCollision && { selfDistance: 0 }),
  };
}
