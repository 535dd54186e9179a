import { array, boolean, mixed, number, object, string, ValidationError } from 'yup';
import {
  type CostProfile,
  TARGET_DEFAULTS,
  TARGET_RANGES,
  type TargetProfile,
  type UnitCosts,
} from '../../cost/index.ts';
import { WORK_UNITS } from '../../run/index.ts';

export const TARGET_FORMAT = 'cobweb-target-profile';
export const TARGET_VERSION = 1;

/** A target profile as a file of its own. The schema is in docs/formats. */
export interface TargetFile extends Omit<TargetProfile, 'id' | 'costs'> {
  format: typeof TARGET_FORMAT;
  version: typeof TARGET_VERSION;
  source: CostProfile['source'];
  machine: string | null;
  measuredAt: string | null;
  /** Of one of each unit of work. */
  nanoseconds: UnitCosts;
  fit: CostProfile['fit'];
  groups: NonNullable<CostProfile['groups']>;
  timed: NonNullable<CostProfile['timed']>;
}

const errorsField = array(
  object({
    name: string().required().max(200),
    predicted: number().required().min(0),
    measured: number().required().moreThan(0),
  })
    .noUnknown()
    .required(),
).max(1000);

const rangeOf = (key: keyof typeof TARGET_RANGES) =>
  number().min(TARGET_RANGES[key][0]).max(TARGET_RANGES[key][1]);

/** Settings of a target, each on its own. */
export const TARGET_FIELDS = {
  name: string()
    .trim()
    .required(({ path }) => `${path} is empty: type at least one letter`)
    .max(200),
  framesPerSecond: rangeOf('framesPerSecond').required(),
  share: rangeOf('share').required(),
  budgetMilliseconds: rangeOf('budgetMilliseconds').nullable().defined(),
  cores: rangeOf('cores').integer().required(),
};

const costsField = mixed<UnitCosts>(
  (value): value is UnitCosts => value !== null && typeof value === 'object',
)
  .required()
  .test('units', (value, { createError, path }) => {
    const wrong = WORK_UNITS.find((unit) => {
      const cost = (value as Partial<UnitCosts>)[unit];
      return !(typeof cost === 'number' && cost >= 0 && Number.isFinite(cost));
    });
    return wrong === undefined || createError({ message: `${path}.${wrong} is no number of nanoseconds` });
  });

const fileField = object({
  ...TARGET_FIELDS,
  // Files of before said nothing of it.
  cores: rangeOf('cores').integer().default(TARGET_DEFAULTS.cores),
  source: string()
    .oneOf(['reference', 'machine', 'timings'] as const)
    .required(),
  machine: string().nullable().defined().max(200),
  measuredAt: string().nullable().defined().max(40),
  nanoseconds: costsField,
  fit: object({ fitted: number().required().integer().min(0), tried: errorsField.required() })
    .noUnknown()
    .nullable()
    .defined(),
  groups: array(
    object({
      key: string().required().max(40),
      factor: number().required().min(0),
      error: number().required().min(0),
      isAssumed: boolean().required(),
    })
      .noUnknown()
      .required(),
  )
    .required()
    .max(100),
  timed: errorsField.required(),
}).required();

/** As a file. */
export function writeTargetFile({ name, costs, ...settings }: Omit<TargetProfile, 'id'>): TargetFile {
  const { framesPerSecond, share, budgetMilliseconds, cores } = settings;
  const { source, machine, measuredAt, fit, groups = [], timed = [] } = costs;
  return {
    format: TARGET_FORMAT,
    version: TARGET_VERSION,
    name,
    source,
    machine,
    measuredAt,
    framesPerSecond,
    share,
    budgetMilliseconds,
    cores,
    nanoseconds: costs.costs,
    fit,
    groups: [...groups],
    timed: [...timed],
  };
}

/** @throws {Error} That says what of the text is no target profile. */
export function parseTargetFile(text: string): Omit<TargetProfile, 'id'> {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Error('The file is not JSON. Choose a target profile that was exported here.');
  }
  const { format, version } = (value ?? {}) as Partial<TargetFile>;
  if (format !== TARGET_FORMAT)
    throw new Error('The file is JSON, but no target profile. Choose one that was exported here.');
  if (version !== TARGET_VERSION)
    throw new Error(
      `Its version is ${JSON.stringify(version ?? null)}; this build reads ${TARGET_VERSION}. Update Cobweb, or export the profile again.`,
    );
  try {
    const file = fileField.validateSync(value, { strict: true });
    const { source, machine, measuredAt, fit, groups, timed } = file;
    const { name, framesPerSecond, share, budgetMilliseconds, cores } = file;
    const costs = Object.fromEntries(WORK_UNITS.map((unit) => [unit, file.nanoseconds[unit]])) as UnitCosts;
    return {
      name,
      framesPerSecond,
      share,
      budgetMilliseconds,
      cores,
      costs: { name, source, machine, measuredAt, costs, fit, groups, timed },
    };
  } catch (error) {
    if (error instanceof ValidationError) throw new Error(`The target profile is damaged: ${error.message}.`);
    throw error;
  }
}
