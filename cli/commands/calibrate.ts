import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import {
  COST_GROUPS,
  profileFromTimings,
  readTimings,
  type Timings,
  writeTargetFile,
} from '../../core/budget/index.ts';
import {
  type CostProfile,
  type FitError,
  findWorstError,
  isDoubtful,
  REFERENCE_COSTS,
  TARGET_DEFAULTS,
  type TargetProfile,
  type UnitCosts,
} from '../../core/cost/index.ts';
import { WORK_UNITS } from '../../core/run/index.ts';
import { writeTargetKit } from '../../formats/index.ts';
import { keepCostProfile, readCostProfile } from '../../server/services/cost-service.ts';
import { createTarget } from '../../server/services/target-service.ts';
import { calibrate } from '../../server/work/jobs/calibrate.ts';
import { finish } from '../../server/work/jobs/finish.ts';
import type { Command } from '../command.ts';
import { UsageError } from '../usage-error.ts';
import { withDatabase } from '../with-database.ts';
import { writeOutput } from '../write-output.ts';

const USAGE = `Usage: ./cobweb calibrate [--json] [--unkept]
       ./cobweb calibrate --template OUT.zip
       ./cobweb calibrate --from TIMINGS.csv [--name NAME] [--json] [--unkept]

Measures what each kind of work of the cloth costs on this machine: plays generated garments, fits unit costs to most of
them, and tries the fit on the others. Takes about two minutes; what runs beside it makes it longer, not other.
The application goes by what was measured last.

For the machine that a game runs on: --template writes garments to be timed there, with a table to fill in; --from reads
the table and makes a target profile of it.

  --json      the profile as JSON: of this machine {"name", "source", "machine", "measuredAt", "costs": {UNIT: NANOSECONDS, …},
              "fit": {"fitted", "tried": [{"name", "predicted", "measured"}, …]}}; of timings a target profile as it is
              exported, see docs/formats/target-profile.schema.json
  --unkept    tells it only: the application goes on by what it had
  --template  a ZIP archive: calibration garments as GLB, timings.csv, and how to measure
  --from      timings.csv, filled in
  --name      of the target profile, default the name of the file`;

export const command: Command = {
  summary: 'measure what the work of cloth costs, on this machine or from timings of another',
  usage: USAGE,
  async run(args) {
    const { values } = parseArgs({
      args,
      options: {
        json: { type: 'boolean' },
        unkept: { type: 'boolean' },
        template: { type: 'string' },
        from: { type: 'string' },
        name: { type: 'string' },
      },
    });
    if (values.template !== undefined && values.from !== undefined)
      throw new UsageError('--template and --from: one writes what the other reads. Give one of them.');
    if (values.template !== undefined) {
      writeOutput(values.template, await writeTargetKit());
      return 0;
    }
    if (values.from !== undefined) return calibrateTarget({ ...values, from: values.from });
    const profile = calibrate(null, {}, createTeller());
    if (!values.unkept) await withDatabase((em) => keepCostProfile(em, profile));
    if (values.json) console.log(JSON.stringify(profile, null, 2));
    else for (const line of tell(profile)) console.log(line);
    return 0;
  },
};

interface TargetOptions {
  from: string;
  name?: string | undefined;
  json?: boolean | undefined;
  unkept?: boolean | undefined;
}

/** Makes a target profile of a table of timings. */
async function calibrateTarget({ from, name, json, unkept }: TargetOptions): Promise<number> {
  const timings = readTimingsFile(from);
  const makeTarget = (base: UnitCosts): Omit<TargetProfile, 'id'> => ({
    ...TARGET_DEFAULTS,
    name: name ?? basename(from).replace(/\.[^.]*$/, ''),
    costs: finish(profileFromTimings(timings, base, new Date().toISOString()), createTeller()),
  });
  const target = unkept
    ? makeTarget(REFERENCE_COSTS)
    : await withDatabase(async (em) => createTarget(em, makeTarget((await readCostProfile(em)).costs)));
  if (json) console.log(JSON.stringify(writeTargetFile(target), null, 2));
  else for (const line of tellTarget(target)) console.log(line);
  return 0;
}

/** @throws {UsageError} That says what is wrong with the file. */
function readTimingsFile(path: string): Timings {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch {
    throw new UsageError(`--from ${path}: there is no such file that can be read.`);
  }
  try {
    return readTimings(text);
  } catch (error) {
    throw new UsageError(`${path}: ${(error as Error).message}`);
  }
}

function tellTarget({ name, costs }: Omit<TargetProfile, 'id'>): string[] {
  return [
    `${name}: times what the machine takes that it was weighed on`,
    ...(costs.groups ?? []).map(({ key, factor, error, isAssumed }) => {
      const label = COST_GROUPS.find((group) => group.key === key)?.label ?? key;
      return `  ${label.padEnd(34)}${factor.toFixed(2).padStart(8)}  ${isAssumed ? 'assumed: the timings do not tell it' : `± ${error.toFixed(2)}`}`;
    }),
    'timed garments, ms a frame: fitted, timed',
    ...(costs.timed ?? []).map(tellError),
    `within ${Math.ceil(100 * (findWorstError(costs) ?? 0))} %`,
    ...(isDoubtful(costs)
      ? [
          'Some times do not go with the work of their garments: check that they are ms a frame, of the cloth alone, on one core.',
        ]
      : []),
  ];
}

/** Tells every tenth, beside what is asked for. */
function createTeller(): (share: number) => void {
  let told = 0;
  return (share) => {
    if (share < told + 0.1) return;
    told = share;
    console.error(`calibrate: ${Math.round(100 * share)} %`);
  };
}

function tell(profile: CostProfile): string[] {
  const { machine, costs, fit } = profile;
  const worst = findWorstError(profile) ?? 0;
  return [
    `${machine}: nanoseconds of one of each`,
    ...WORK_UNITS.map((unit) => `  ${unit.padEnd(18)}${costs[unit].toFixed(2).padStart(12)}`),
    'garments that it was not fitted to, ms a frame: predicted, measured',
    ...fit!.tried.map(tellError),
    `within ${Math.ceil(100 * worst)} %`,
  ];
}

function tellError({ name, predicted, measured }: FitError): string {
  const error = 100 * (predicted / measured - 1);
  return `  ${name.padEnd(18)}${predicted.toFixed(3).padStart(12)}${measured.toFixed(3).padStart(10)}${`${error.toFixed(1)} %`.padStart(10)}`;
}
