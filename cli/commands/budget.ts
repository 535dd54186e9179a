import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { type Advice, advise, type BudgetChange } from '../../core/advice/index.ts';
import { parseTargetFile } from '../../core/budget/index.ts';
import { findBudget, type TargetProfile, toPricing } from '../../core/cost/index.ts';
import { CAMERA_DEFAULTS, CAMERA_RANGES, type CrowdCamera } from '../../core/crowd/index.ts';
import { getScene } from '../../core/document/index.ts';
import { listCases, resolveAllLimits, type TrialCase } from '../../core/trials/index.ts';
import { createSubject, WorkPool } from '../../server/work/work-pool.ts';
import { measureLevels } from '../budget/measure-levels.ts';
import { type BudgetReport, reportBudget, withLevels } from '../budget/report-budget.ts';
import type { Command } from '../command.ts';
import { measureAll, readThreads } from '../measure-all.ts';
import { toPrintable } from '../printable.ts';
import { readPlan } from '../trial/read-plan.ts';
import { UsageError } from '../usage-error.ts';
import { type Subject, withSubject } from '../with-subject.ts';

const USAGE = `Usage: ./cobweb budget CHARACTER [--profile FILE] [--budget MS] [--clip NAME]… [--advice | --no-advice]
                       [--levels] [--fov DEGREES] [--screen PIXELS] [--json] [--threads N]

Tells what the cloth of a character costs a frame on the machine that a game runs on, by task and garment, and what to
change first to get under the budget: each change is really tried.

  CHARACTER    "Project/Character" or the id of a character in the application's database, or a .glb that was
               shipped, which needs no database
  --profile    a target profile as it is exported; default the one of the project, for a file the reference machine
  --budget     in place of the one that the character or the profile has
  --clip       only this clip; may be given several times
  --advice     also when it is within the budget; --no-advice: never
  --levels     also what each level of detail costs, at which distances, and how many of the character fit there;
               the levels that are proposed when it has none
  --fov        field of view of the camera, from the upper to the lower edge; default 50
  --screen     height of the target's picture, px; default 1080
  --json       print {"profile", "budgetMicroseconds", "costMicroseconds": {"mean", "p95", "worst", "parts": {…}},
               "clips": [{"name", "mean", "p95", "worst"}],
               "garments": [{"name", "costMicroseconds", "levels": [{"pixels", "costMicroseconds"}]}],
               "crowd": {"areProposed", "camera", "sizes": [{"fromPixels", "toMetres", "costMicroseconds",
               "switchMicroseconds", "fits"}]},
               "advice": [{"change", "savesMicroseconds", "showThroughSquareCentimetres",
               "penetrationMillimetres", "breaks"}], "best": {"changes", "costMicroseconds", …}}
  --threads    side by side, default one for each core

Exit code: 0 within the budget on the mean of all clips, 1 over it, 2 with the reason when it cannot run.`;

export const command: Command = {
  summary: 'tell what a character costs a frame, and what to change first',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: {
        profile: { type: 'string' },
        budget: { type: 'string' },
        clip: { type: 'string', multiple: true },
        levels: { type: 'boolean' },
        fov: { type: 'string' },
        screen: { type: 'string' },
        advice: { type: 'boolean' },
        'no-advice': { type: 'boolean' },
        json: { type: 'boolean' },
        threads: { type: 'string' },
      },
      allowPositionals: true,
    });
    const [wanted] = positionals;
    if (!wanted || positionals.length > 1)
      throw new UsageError('name one character, or a .glb that was shipped. See ./cobweb budget --help.');
    if (values.advice && values['no-advice'])
      throw new UsageError('--advice and --no-advice: give one of them.');
    const threads = readThreads(values.threads);
    const typed = values.budget === undefined ? null : readBudget(values.budget);
    const profile = values.profile === undefined ? null : readProfile(values.profile);
    const camera = readCamera(values.fov, values.screen);
    const report = await withSubject(wanted, async (opened) => {
      const subject = { ...opened, ...(profile && { target: { id: 'file', ...profile } }) };
      const { character, document, target } = subject;
      const budget = typed ?? getScene(document).budgetMilliseconds ?? findBudget(target);
      const cases = listCases(readPlan(character, { clip: values.clip }));
      const measured = await measureAll(subject, { pricing: toPricing(target), cases, threads });
      const rows = measured.map((each) => each.rows);
      let told = reportBudget(subject, rows, budget, null);
      const isOver = told.costMicroseconds.mean > told.budgetMicroseconds;
      if (!values['no-advice'] && (values.advice || isOver))
        told = reportBudget(subject, rows, budget, await adviseOn(subject, cases, budget, threads));
      if (!values.levels) return told;
      return withLevels(told, subject, await measureLevels(subject, cases, threads), camera, budget);
    });
    if (values.json) console.log(JSON.stringify(report, null, 2));
    else for (const line of tell(report)) console.log(line);
    return report.costMicroseconds.mean > report.budgetMicroseconds ? 1 : 0;
  },
};

/** Tries what may make it cheaper, changes side by side. */
async function adviseOn(
  { character, document, target }: Subject,
  cases: readonly TrialCase[],
  budget: number,
  threads: number,
): Promise<Advice> {
  const pool = new WorkPool(threads);
  const subject = createSubject(character, document);
  let tried = 0;
  const tryOut = async (changes: readonly BudgetChange[]) => {
    const made = await pool.run(subject, 'tryChanges', { cases, changes, pricing: toPricing(target) });
    console.error(`budget: ${++tried} tried`);
    return made;
  };
  try {
    return await advise(tryOut, resolveAllLimits(document), budget);
  } finally {
    await pool.close();
  }
}

/** @throws {UsageError} For numbers that no camera has. */
function readCamera(fov: string | undefined, screen: string | undefined): CrowdCamera {
  const degrees = 180 / Math.PI;
  const [least, most] = CAMERA_RANGES.fieldOfView.map((value) => Math.round(degrees * value));
  const fieldOfView = fov === undefined ? CAMERA_DEFAULTS.fieldOfView : Number(fov) / degrees;
  const screenHeight = screen === undefined ? CAMERA_DEFAULTS.screenHeight : Number(screen);
  if (!isWithin(fieldOfView, CAMERA_RANGES.fieldOfView))
    throw new UsageError(`--fov ${fov}: it is degrees from ${least} to ${most}.`);
  if (!isWithin(screenHeight, CAMERA_RANGES.screenHeight) || !Number.isInteger(screenHeight))
    throw new UsageError(
      `--screen ${screen}: it is a number of pixels from ${CAMERA_RANGES.screenHeight.join(' to ')}.`,
    );
  return { fieldOfView, screenHeight };
}

function isWithin(value: number, [least, most]: readonly [number, number]): boolean {
  return value >= least && value <= most;
}

/** ms. @throws {UsageError} */
function readBudget(text: string): number {
  const budget = Number(text);
  if (!(budget > 0 && budget <= 1000))
    throw new UsageError(`--budget ${text}: it is milliseconds a frame, like 2.`);
  return budget;
}

/** @throws {UsageError} That says what is wrong with the file. */
function readProfile(path: string): Omit<TargetProfile, 'id'> {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch {
    throw new UsageError(`--profile ${path}: there is no such file that can be read.`);
  }
  try {
    return parseTargetFile(text);
  } catch (error) {
    throw new UsageError(`${path}: ${(error as Error).message}`);
  }
}

function tell(report: BudgetReport): string[] {
  const { profile, budgetMicroseconds, costMicroseconds, clips, garments, advice, best } = report;
  const { mean, p95, worst, parts } = costMicroseconds;
  const row = (name: string, ...numbers: number[]): string =>
    `  ${toPrintable(name).padEnd(40)}${numbers.map((value) => String(value).padStart(8)).join('')}`;
  const sign = (value: number): string => (value > 0 ? `+${value}` : String(value));
  return [
    `${toPrintable(profile)}: ${mean} of ${budgetMicroseconds} µs a frame, ${mean > budgetMicroseconds ? 'over the budget' : 'within the budget'} (95 % of frames below ${p95}, worst ${worst})`,
    'µs a frame by task',
    ...Object.entries(parts)
      .filter(([, cost]) => cost > 0)
      .map(([part, cost]) => row(part, cost)),
    'by garment',
    ...garments.flatMap(({ name, costMicroseconds: cost, levels = [] }) => [
      row(name, cost),
      ...levels.map((level) => row(`  below ${level.pixels} px`, level.costMicroseconds)),
    ]),
    'by clip: mean, 95 % below, worst',
    ...clips.map((clip) => row(clip.name, clip.mean, clip.p95, clip.worst)),
    ...tellCrowd(report, row),
    ...(advice.length > 0 ? ['what to change first: saves µs, show-through cm², penetration mm'] : []),
    ...advice.map(
      ({ change, savesMicroseconds, showThroughSquareCentimetres, penetrationMillimetres, breaks }) =>
        `${row(change, savesMicroseconds)}${sign(showThroughSquareCentimetres).padStart(8)}${sign(penetrationMillimetres).padStart(8)}${breaks.length > 0 ? `  breaks ${breaks.join(', ')}` : ''}`,
    ),
    ...(best
      ? [`together ${best.costMicroseconds} µs a frame: ${best.changes.map(toPrintable).join('; ')}`]
      : []),
  ];
}

function tellCrowd({ crowd }: BudgetReport, row: (name: string, ...numbers: number[]) => string): string[] {
  if (!crowd) return [];
  const { areProposed, sizes } = crowd;
  return [
    `by size on the screen${areProposed ? ', with the levels that are proposed' : ''}: µs of one, µs while it switches, how many fit`,
    ...sizes.map(({ fromPixels, toMetres, costMicroseconds, switchMicroseconds, fits }) => {
      const place = toMetres === null ? 'beyond' : `to ${toMetres.toFixed(1)} m`;
      const told = row(`from ${fromPixels} px, ${place}`, costMicroseconds);
      const switching = switchMicroseconds === null ? '-' : String(switchMicroseconds);
      return `${told}${switching.padStart(8)}${(fits === null ? 'any' : String(fits)).padStart(8)}`;
    }),
  ];
}
