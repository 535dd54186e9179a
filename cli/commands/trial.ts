import { parseArgs } from 'node:util';
import { toPricing } from '../../core/cost/index.ts';
import { getMeasure, listCases } from '../../core/trials/index.ts';
import { keepTrial } from '../../server/trials/keep-trial.ts';
import { tellPlan } from '../../server/trials/tell-plan.ts';
import type { Command } from '../command.ts';
import { measureAll, readThreads } from '../measure-all.ts';
import { toPrintable, toPrintableName } from '../printable.ts';
import { applyLimits, readLimits } from '../trial/read-limits.ts';
import { readPlan } from '../trial/read-plan.ts';
import { type ClipReport, reportTrial, type TrialReport } from '../trial/trial-report.ts';
import { tellBroken, writeJunit } from '../trial/write-junit.ts';
import { UsageError } from '../usage-error.ts';
import { withSubject } from '../with-subject.ts';
import { writeOutput } from '../write-output.ts';

const USAGE = `Usage: ./cobweb trial CHARACTER [--clip NAME]… [--blend FROM,TO,AT,LENGTH]… [--rate N]…
                      [--wind WIND]… [--shape MORPH]… [--all] [--limits FILE]
                      [--json] [--junit FILE] [--threads N] [--unkept]

Plays every clip of a character and measures each frame: skin that shows through, cloth in the skin, layers
through one another, stretch, jitter, cost. Tells which limits are broken, where, and by how much.

  CHARACTER   "Project/Character" or the id of a character in the application's database, or a .glb that was
              shipped, which needs no database
  --clip      only this clip; may be given several times
  --blend     a change from one clip to another, at second AT of the first, in LENGTH seconds
  --rate      at frames of this rate instead of 60 a second: 60, 30, 120 or uneven
  --wind      in this wind: set (as the character has it), still, strong
  --shape     in this body shape, at its full value
              Of several of these three one thing is changed at a time.
  --all       every clip as it is set, and then at each rate, in each wind, and in each body shape
  --limits    JSON with limits in place of the character's own, as {"penetrationMillimetres": 5,
              "garments": {"Poncho": {"stretchPercent": 12}}}; null: none
  --json      print {"passes", "clips": [{"name", "frames", "passes", "worst", "mean", "broken": [{"measure",
              "limit", "value", "time", "garment"}]}]}; "worst" and "mean" are {"penetrationMillimetres",
              "showThroughSquareCentimetres", "layerMillimetres", "stretchPercent", "jitterMillimetres",
              "costMicroseconds", …}
  --junit     write JUnit XML, a clip as a test case
  --threads   clips side by side, default one for each core
  --unkept    leave no trace: otherwise a trial of a character in the database is kept in its history

What is measured is the same on every machine. The cost is the counted work at what each piece of it costs: on this
machine once it was calibrated (./cobweb calibrate), for a shipped file on the reference machine.

Exit code: 0 when all limits hold, 1 when one is broken, 2 with the reason when it cannot run.`;

export const command: Command = {
  summary: 'measure every clip of a character against limits',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: {
        clip: { type: 'string', multiple: true },
        blend: { type: 'string', multiple: true },
        rate: { type: 'string', multiple: true },
        wind: { type: 'string', multiple: true },
        shape: { type: 'string', multiple: true },
        all: { type: 'boolean' },
        limits: { type: 'string' },
        json: { type: 'boolean' },
        junit: { type: 'string' },
        threads: { type: 'string' },
        unkept: { type: 'boolean' },
      },
      allowPositionals: true,
    });
    const [wanted] = positionals;
    if (!wanted || positionals.length > 1)
      throw new UsageError('name one character, or a .glb that was shipped. See ./cobweb trial --help.');
    const threads = readThreads(values.threads);
    const file = values.limits === undefined ? null : readLimits(values.limits);
    const { report, measured } = await withSubject(wanted, async (subject) => {
      const { character, document, target, stored } = subject;
      const limits = applyLimits(document, file);
      const plan = readPlan(character, values);
      const cases = listCases(plan);
      const start = performance.now();
      const measured = await measureAll(subject, { pricing: toPricing(target), cases, threads });
      const rows = measured.map((each) => each.rows);
      const seconds = (performance.now() - start) / 1000;
      if (stored && !values.unkept) {
        const { em, id: characterId, snapshot } = stored;
        const title = `${tellPlan(plan, cases)}, from the command line`;
        const made = { characterId, title, isAutomatic: false, snapshot, document, cases, rows, seconds };
        await keepTrial(em.fork(), made);
      }
      return { measured, report: reportTrial(rows, limits) };
    });
    if (values.junit) {
      const seconds = measured.map((each) => each.seconds);
      writeOutput(values.junit, writeJunit(wanted, report, seconds));
    }
    if (values.json) console.log(JSON.stringify(report, null, 2));
    else for (const line of tell(report)) console.log(line);
    return report.passes ? 0 : 1;
  },
};

function tell({ clips, passes }: TrialReport): string[] {
  const broken = clips.filter((clip) => !clip.passes).length;
  return [
    ...clips.flatMap((clip) => [
      tellClip(clip),
      ...clip.broken.map((one) => `        ${toPrintable(tellBroken(one))}`),
    ]),
    passes ? `all ${clips.length} pass` : `${broken} of ${clips.length} break a limit`,
  ];
}

const TOLD = ['showThrough', 'penetration', 'layers', 'stretch', 'jitter', 'cost'] as const;

function tellClip({ name, passes, worst }: ClipReport): string {
  const values = TOLD.map((key) => {
    const { label, unit, digits, fileKey, factor, fileFactor = factor } = getMeasure(key);
    const value = worst[fileKey] ?? null;
    return `${label} ${value === null ? '–' : `${((value * factor) / fileFactor).toFixed(digits)} ${unit}`}`;
  });
  return `${passes ? 'passes' : 'breaks'}  ${toPrintableName(name)}: ${values.join(', ')}`;
}
