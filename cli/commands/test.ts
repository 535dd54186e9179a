import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PostgresCluster } from '../../server/database/cluster.ts';
import { findProjectRoot } from '../../server/project-root.ts';
import { buildWhenChanged } from '../build.ts';
import { checkDependencies } from '../checks/dependency-directions.ts';
import type { Command } from '../command.ts';
import { UsageError } from '../usage-error.ts';

const PARTS = {
  check: 'formatter, lint rules, directions of dependency, types',
  core: 'the computation',
  formats: 'readers and writers',
  demo: 'the demo character',
  server: 'database, services, intake',
  web: 'state of the page',
  cli: 'commands',
  e2e: 'the whole, in a browser',
} as const;
type Part = keyof typeof PARTS;

const USAGE = `Usage: ./cobweb test [PART ...] [--grep TEXT]

Runs every check and test, or only some parts:

${Object.entries(PARTS)
  .map(([part, what]) => `  ${part.padEnd(8)} ${what}`)
  .join('\n')}

  --grep   only tests whose title holds this text

The last line is "N passed, N failed". Exit code: 0 when nothing failed.`;

interface Count {
  passed: number;
  failed: number;
}

export const command: Command = {
  summary: 'run the checks and tests',
  usage: USAGE,
  async run(args) {
    const grepAt = args.indexOf('--grep');
    const grep = grepAt >= 0 ? args[grepAt + 1] : undefined;
    const wanted = args.filter((_, i) => grepAt < 0 || (i !== grepAt && i !== grepAt + 1));
    const unknown = wanted.find((part) => !(part in PARTS));
    if (unknown) throw new UsageError(`there is no part "${unknown}". See ./cobweb test --help.`);
    const parts = (wanted.length > 0 ? wanted : Object.keys(PARTS)) as Part[];
    const total: Count = { passed: 0, failed: 0 };
    const add = (count: Count): void => {
      total.passed += count.passed;
      total.failed += count.failed;
    };
    if (parts.includes('check') && !grep) add(runChecks());
    const mochaParts = parts.filter((part) => part !== 'check');
    if (mochaParts.length > 0) add(await runMocha(mochaParts, grep));
    console.log(`\n${total.passed} passed, ${total.failed} failed`);
    return total.failed > 0 ? 1 : 0;
  },
};

function runChecks(): Count {
  const root = findProjectRoot();
  const count: Count = { passed: 0, failed: 0 };
  const report = (what: string, problem: string | null): void => {
    console.log(`${problem === null ? '✔' : '✘'} ${what}`);
    if (problem === null) {
      count.passed++;
    } else {
      count.failed++;
      console.log(problem);
    }
  };
  const tool = (script: string, ...toolArgs: string[]): string | null => {
    const result = spawnSync(process.execPath, [join(root, 'node_modules', script), ...toolArgs], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1' },
    });
    return result.status === 0 ? null : `${result.stdout}${result.stderr}`;
  };
  report('formatter and lint rules', tool('@biomejs/biome/bin/biome', 'check', '--max-diagnostics=30', '.'));
  const faults = checkDependencies(root);
  report('directions of dependency', faults.length === 0 ? null : faults.join('\n'));
  report('types', tool('astro/astro.js', 'check', '--minimumSeverity', 'error'));
  return count;
}

async function runMocha(parts: Part[], grep: string | undefined): Promise<Count> {
  const root = findProjectRoot();
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-test-'));
  const needsDatabase = parts.some((part) => ['server', 'cli', 'e2e'].includes(part));
  // The throw-away cluster runs as another user when we are root, who must be able to enter its folder.
  chmodSync(folder, 0o711);
  const cluster = needsDatabase
    ? await PostgresCluster.start({ folder: join(folder, 'postgres'), isThrowaway: true })
    : null;
  try {
    if (parts.includes('e2e')) buildWhenChanged(console.log);
    const countFile = join(folder, 'count.json');
    const globs = parts.map((part) => (part === 'e2e' ? 'e2e/**/*.e2e.ts' : `${part}/**/*.test.ts`));
    spawnSync(
      process.execPath,
      [
        join(root, 'node_modules', 'mocha', 'bin', 'mocha.js'),
        '--reporter',
        join(root, 'cli', 'checks', 'counting-reporter.cjs'),
        ...(grep ? ['--grep', grep] : []),
        ...globs,
      ],
      {
        cwd: root,
        stdio: 'inherit',
        env: {
          ...process.env,
          COBWEB_COUNT_FILE: countFile,
          COBWEB_TEST_DATABASE_URL: cluster?.url ?? '',
          COBWEB_ROOT: root,
        },
      },
    );
    return readCount(countFile);
  } finally {
    await cluster?.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A runner that died before it could count has failed. */
function readCount(path: string): Count {
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as Count;
  } catch {
    return { passed: 0, failed: 1 };
  }
}
