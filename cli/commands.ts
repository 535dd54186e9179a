import type { Command } from './command.ts';
import { toPrintable } from './printable.ts';

const COMMANDS: Record<string, () => Promise<{ command: Command }>> = {
  start: () => import('./commands/start.ts'),
  worker: () => import('./commands/worker.ts'),
  test: () => import('./commands/test.ts'),
  inspect: () => import('./commands/inspect.ts'),
  pose: () => import('./commands/pose.ts'),
  ship: () => import('./commands/ship.ts'),
  check: () => import('./commands/check.ts'),
  remesh: () => import('./commands/remesh.ts'),
  transfer: () => import('./commands/transfer.ts'),
  map: () => import('./commands/map.ts'),
  trial: () => import('./commands/trial.ts'),
  suggest: () => import('./commands/suggest.ts'),
  bodies: () => import('./commands/bodies.ts'),
  budget: () => import('./commands/budget.ts'),
  calibrate: () => import('./commands/calibrate.ts'),
  bench: () => import('./commands/bench.ts'),
};

/** Names of errors that are told in one line. By name: tests may have loaded a class twice. */
const EXPECTED: ReadonlySet<string> = new Set(['IntakeError', 'UsageError', 'SetupError']);

const SUMMARIES = `  start      start the application with its demo data
  worker     share the long work of an application
  test       run the checks and tests
  inspect    report what is in a character file
  pose       print the vertices of a character in a pose
  ship       write the finished file of a character
  check      examine the meshes of a character file
  remesh     make an even mesh over a section
  transfer   carry skin weights and morphs from a body to a garment
  map        write a painted map as an image, or take one over
  trial      measure every clip of a character against limits
  suggest    suggest collision bodies by simulating the clips
  bodies     tell how bodies fit the skin and what each does
  budget     tell what a character costs a frame, and what to change first
  calibrate  measure what the work of cloth costs, on this machine or from timings of another
  bench      measure the cloth solver and the brush`;

export function printHelp(): void {
  console.log(`Cobweb: engine-ready cloth and collision assets for game characters.

Usage: ./cobweb COMMAND [OPTIONS]

${SUMMARIES}

./cobweb COMMAND --help tells more.`);
}

/** Runs a command; expected errors become one line on stderr and exit code 2. */
export async function runCommand(name: string, args: string[]): Promise<number> {
  const load = COMMANDS[name];
  if (!load) {
    console.error(`cobweb: there is no command "${name}". ./cobweb --help lists them.`);
    return 2;
  }
  const { command } = await load();
  if (args.includes('--help') || args.includes('-h')) {
    console.log(command.usage);
    return 0;
  }
  try {
    return await command.run(args);
  } catch (error) {
    if (error instanceof Error && EXPECTED.has(error.name)) {
      console.error(toPrintable(`cobweb ${name}: ${error.message}`));
      return 2;
    }
    // parseArgs complains of unknown options with codes of its own.
    const code = (error as { code?: string }).code;
    if (code?.startsWith('ERR_PARSE_ARGS')) {
      console.error(`cobweb ${name}: ${toPrintable((error as Error).message)} See ./cobweb ${name} --help.`);
      return 2;
    }
    throw error;
  }
}
