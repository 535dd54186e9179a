import { array, number, string } from 'yup';
import type { SectionName } from '../../rig/index.ts';
import { sectionIndexField, sectionNameField, sectionsField } from '../../steps/index.ts';
import { ALL_BODY_GROUPS } from './body.ts';
import { type GarmentLevel, levelsField } from './level.ts';
import { type Limits, limitsField } from './limits.ts';
import { idField, type RecordDefinition, type RecordId, titleField } from './record-definition.ts';

export interface GarmentRecord {
  type: 'garment';
  id: RecordId;
  name: string;
  /** Place in the list, from the skin outward. */
  order: number;
  /** Section of the character, with its name, to find it again in a new version of the file. */
  sectionIndex: number;
  sectionName: string;
  fabricId: RecordId;
  bodySetId: RecordId;
  /** Collision groups whose bodies it meets: a bit for each, see `groupBit`. */
  bodyGroups: number;
  /** Garments that it never comes near: the two are not kept off each other, whichever lies over the other. */
  clearOf: readonly RecordId[];
  /** How the warp lies against V of the UVs, rad. */
  warpTurn: number;
  /** Share of the simulation in what is shown and measured: 0 skinned, 1 simulated. */
  blend: number;
  /**
   * Sections that are drawn in place of the simulated one and follow it: then `sectionIndex` is a sim mesh. Empty when
   * the section is simulated itself.
   */
  renders: readonly SectionName[];
  /** `inside`: of a garment with two sides the inner one rides on the outer instead of being simulated. */
  lining: 'none' | 'inside';
  /** Limits of trials for this garment, where they are not those of all. */
  trialLimits: Limits;
  /** Levels of detail besides the garment as it is, from near to far. */
  levels: readonly GarmentLevel[];
}

/** Far more than are worn over one another. */
const MOST_CLEAR = 200;

export const GARMENT_DEFAULTS: Pick<
  GarmentRecord,
  'warpTurn' | 'blend' | 'renders' | 'lining' | 'bodyGroups' | 'clearOf' | 'trialLimits' | 'levels'
> = {
  bodyGroups: ALL_BODY_GROUPS,
  clearOf: [],
  warpTurn: 0,
  blend: 1,
  renders: [],
  lining: 'none',
  trialLimits: {},
  levels: [],
};

/** Whether two garments never come near each other. */
export function areClear(one: Pick<GarmentRecord, 'id' | 'clearOf'>, other: typeof one): boolean {
  return one.clearOf.includes(other.id) || other.clearOf.includes(one.id);
}

export const garmentDefinition: RecordDefinition<GarmentRecord> = {
  type: 'garment',
  words: ['garment', 'garments'],
  fields: {
    name: titleField,
    order: number().required(),
    sectionIndex: sectionIndexField,
    sectionName: sectionNameField,
    fabricId: idField,
    bodySetId: idField,
    bodyGroups: number().required().integer().min(0).max(ALL_BODY_GROUPS),
    clearOf: array(idField).required().max(MOST_CLEAR),
    warpTurn: number().required().min(-Math.PI).max(Math.PI),
    blend: number().required().min(0).max(1),
    renders: sectionsField,
    lining: string().oneOf(['none', 'inside']).required(),
    trialLimits: limitsField,
    levels: levelsField,
  },
  fieldWords: {
    name: 'name',
    order: 'order',
    sectionName: 'section',
    fabricId: 'fabric',
    bodySetId: 'body set',
    bodyGroups: 'collision groups',
    clearOf: 'garments it never touches',
    warpTurn: 'warp turn',
    blend: 'blend',
    renders: 'drawn sections',
    lining: 'lining',
    trialLimits: 'limits of trials',
    levels: 'levels of detail',
  },
  references: { fabricId: 'fabric', bodySetId: 'bodySet' },
  tellName: ({ name }) => name,
  complete: (record) => ({
    bodyGroups: ALL_BODY_GROUPS,
    clearOf: [],
    trialLimits: {},
    levels: [],
    ...record,
  }),
  raises: [
    {
      to: 1,
      name: 'warp turn, blend, drawn sections and lining',
      raise: (record) => ({ ...GARMENT_DEFAULTS, ...record }),
    },
  ],
};
