import { parseArgs } from 'node:util';
import { type CostProfile, findWorstError } from '../../core/cost/index.ts';
import { WORK_UNITS } from '../../core/run/index.ts';
import { createOrm, migrate } from '../../server/database/orm.ts';
import { keepCostProfile } from '../../server/services/cost-service.ts';
import { calibrate } from '../../server/work/jobs/calibrate.ts';
import type { Command } from '../command.ts';
import { openDatabase } from '../environment.ts';

const USAGE = `Usage: ./cobweb calibrate [--json] [--unkept]

Measures what each kind of work of the cloth costs on this machine: plays generated garments, fits unit costs to most of
them, and tries the fit on the others. Takes about a minute; what runs beside it makes it longer, not other.
The application goes by what was measured last.

  --json    the profile as JSON: {"name", "source", "machine", "measuredAt", "costs": {UNIT: NANOSECONDS, …},
            "fit": {"fitted", "tried": [{"name", "predicted", "measured"}, …]}}
  --unkept  tells it only: the application goes on by what it had`;

export const command: Command = {
  summary: 'measure what the work of cloth costs on this machine',
  usage: USAGE,
  async run(args) {
    const { values } = parseArgs({
      args,
      options: { json: { type: 'boolean' }, unkept: { type: 'boolean' } },
    });
    const profile = calibrate(null, {}, createTeller());
    if (!values.unkept) await keep(profile);
    if (values.json) console.log(JSON.stringify(profile, null, 2));
    else for (const line of tell(profile)) console.log(line);
    return 0;
  },
};

/** Tells every tenth, beside what is asked for. */
function createTeller(): (share: number) => void {
  let told = 0;
  return (share) => {
    if (share < told + 0.1) return;
    told = share;
    console.error(`calibrate: ${Math.round(100 * share)} %`);
  };
}

async function keep(profile: CostProfile): Promise<void> {
  const database = await openDatabase((line) => console.error(line));
  try {
    const orm = await createOrm(database.url);
    await migrate(orm);
    await keepCostProfile(orm.em.fork(), profile);
    await orm.close();
  } finally {
    await database.stop();
  }
}

function tell(profile: CostProfile): string[] {
  const { machine, costs, fit } = profile;
  const worst = findWorstError(profile) ?? 0;
  return [
    `${machine}: nanoseconds of one of each`,
    ...WORK_UNITS.map((unit) => `  ${unit.padEnd(18)}${costs[unit].toFixed(2).padStart(12)}`),
    'garments that it was not fitted to, ms a frame: predicted, measured',
    ...fit!.tried.map(({ name, predicted, measured }) => {
      const error = 100 * (predicted / measured - 1);
      return `  ${name.padEnd(18)}${predicted.toFixed(3).padStart(12)}${measured.toFixed(3).padStart(10)}${`${error.toFixed(1)} %`.padStart(10)}`;
    }),
    `within ${Math.ceil(100 * worst)} %`,
  ];
}
