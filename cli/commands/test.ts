import { spawn, spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { PostgresCluster } from '../../server/database/cluster.ts';
import { makeTemporaryFolder } from '../../server/database/database-user.ts';
import { findProjectRoot } from '../../server/project-root.ts';
import { buildWhenChanged } from '../build.ts';
import { findAffectedTests, listChangedFiles } from '../checks/affected-tests.ts';
import { checkDependencies } from '../checks/dependency-directions.ts';
import { checkRuntimePackages } from '../checks/runtime-packages.ts';
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

const USAGE = `Usage: ./cobweb test [PART ...] [--grep TEXT] [--changed [REVISION]]

Runs every check and test, or only some parts:

${Object.entries(PARTS)
  .map(([part, what]) => `  ${part.padEnd(8)} ${what}`)
  .join('\n')}

  --grep     only tests whose title holds this text
  --changed  only tests that what differs from a revision of git (HEAD) can break

The last line is "N passed, N failed". Exit code: 0 when nothing failed.`;

interface Count {
  passed: number;
  /** What failed, and how. */
  faults: string[];
}

export const command: Command = {
  summary: 'run the checks and tests',
  usage: USAGE,
  async run(args) {
    const grepAt = args.indexOf('--grep');
    const grep = grepAt >= 0 ? args[grepAt + 1] : undefined;
    const changedAt = args.indexOf('--changed');
    const next = args[changedAt + 1];
    const hasRevision = changedAt >= 0 && next !== undefined && !(next in PARTS) && !next.startsWith('--');
    const taken = new Set([
      ...(grepAt >= 0 ? [grepAt, grepAt + 1] : []),
      ...(changedAt >= 0 ? [changedAt, ...(hasRevision ? [changedAt + 1] : [])] : []),
    ]);
    const wanted = args.filter((_, i) => !taken.has(i));
    const only = changedAt >= 0 ? listAffected(hasRevision ? next : 'HEAD') : null;
    const unknown = wanted.find((part) => !(part in PARTS));
    if (unknown) throw new UsageError(`there is no part "${unknown}". See ./cobweb test --help.`);
    const parts = (wanted.length > 0 ? wanted : Object.keys(PARTS)) as Part[];
    const total: Count = { passed: 0, faults: [] };
    const add = (count: Count): void => {
      total.passed += count.passed;
      total.faults.push(...count.faults);
    };
    if (parts.includes('check') && !grep) add(runChecks());
    for (const count of await runMocha(parts, grep, only)) add(count);
    // Once more at the end, where whoever reads only that looks.
    for (const fault of total.faults) console.log(`\n✘ ${fault}`);
    console.log(`\n${total.passed} passed, ${total.faults.length} failed`);
    return total.faults.length > 0 ? 1 : 0;
  },
};

function runChecks(): Count {
  const root = findProjectRoot();
  const count: Count = { passed: 0, faults: [] };
  const report = (what: string, problem: string | null): void => {
    console.log(`${problem === null ? '✔' : '✘'} ${what}`);
    if (problem === null) {
      count.passed++;
    } else {
      count.faults.push(`${what}\n${problem}`);
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
  const faults = [...checkDependencies(root), ...checkRuntimePackages(root)];
  report('dependencies and their directions', faults.length === 0 ? null : faults.join('\n'));
  report('types', tool('astro/astro.js', 'check', '--minimumSeverity', 'error'));
  return count;
}

/** Folders with tests that take about as long, run at the same time, each on a processor of its own. What is drawn in a browser needs both, and comes last. */
const GROUPS: readonly (readonly { part: Part; folder: string; glob: string }[])[] = [
  [
    { part: 'core', folder: 'core/', glob: 'core/!(mesh)/**' },
    { part: 'demo', folder: 'demo/', glob: 'demo/**' },
  ],
  [
    { part: 'core', folder: 'core/mesh/', glob: 'core/mesh/**' },
    ...(['web', 'formats', 'server', 'cli'] as const).map((part) => ({
      part,
      folder: `${part}/`,
      glob: `${part}/**`,
    })),
  ],
];
/**
 * How long a test in a browser may take before it has failed, ms. Nothing is told by it: what is asked of a page in time says so by
 * itself, for a machine of usual speed. It ends what hangs, and a busy host makes a minute's work ten.
 */
const PATIENCE_IN_BROWSER = 600_000;
/** Everything in it belongs to the other group. */
const APART = 'core/mesh/';

/** Tests that a change since a revision can break. */
function listAffected(revision: string): string[] {
  const root = findProjectRoot();
  const affected = findAffectedTests(root, listChangedFiles(root, revision));
  console.log(`${affected.length} files of tests can be broken by what changed since ${revision}`);
  return affected;
}

/** @param only - Files of tests to run; null: all. */
async function runMocha(
  parts: readonly Part[],
  grep: string | undefined,
  only: readonly string[] | null,
): Promise<Count[]> {
  const listFiles = (folder: string, glob: string): string[] =>
    only?.filter((file) => file.startsWith(folder) && (folder !== 'core/' || !file.startsWith(APART))) ?? [
      glob,
    ];

  const wanted = GROUPS.map((group) =>
    group
      .filter(({ part }) => parts.includes(part))
      .flatMap(({ folder, glob }) => listFiles(folder, `${glob}/*.test.ts`)),
  ).filter((files) => files.length > 0);
  const inBrowser = parts.includes('e2e') ? listFiles('e2e/', 'e2e/**/*.e2e.ts') : [];
  const isInBrowser = inBrowser.length > 0;
  if (wanted.length === 0 && !isInBrowser) return [];
  const folder = makeTemporaryFolder('cobweb-test-');
  const needsDatabase = parts.some((part) => ['server', 'cli', 'e2e'].includes(part));
  const cluster = needsDatabase
    ? await PostgresCluster.start({ folder: join(folder, 'postgres'), isThrowaway: true })
    : null;
  const url = cluster?.url ?? '';
  try {
    const counts = await Promise.all(
      wanted.map((files, g) =>
        runGroup(files, { grep, url, countFile: join(folder, `count-${g}.json`), isShownAtOnce: g === 0 }),
      ),
    );
    if (isInBrowser) {
      buildWhenChanged(console.log);
      const countFile = join(folder, 'count.json');
      counts.push(
        await runGroup(inBrowser, {
          grep,
          url,
          countFile,
          isShownAtOnce: true,
          timeout: PATIENCE_IN_BROWSER,
        }),
      );
    }
    return counts;
  } finally {
    await cluster?.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

interface GroupOptions {
  grep: string | undefined;
  /** Of the database server, empty without one. */
  url: string;
  countFile: string;
  /** Otherwise the listing comes when the group is done. */
  isShownAtOnce: boolean;
  /** Of a test, ms; without it the usual one. */
  timeout?: number;
}

function runGroup(
  globs: string[],
  { grep, url, countFile, isShownAtOnce, timeout }: GroupOptions,
): Promise<Count> {
  const root = findProjectRoot();
  const child = spawn(
    process.execPath,
    [
      join(root, 'node_modules', 'mocha', 'bin', 'mocha.js'),
      '--reporter',
      join(root, 'cli', 'checks', 'counting-reporter.cjs'),
      ...(grep ? ['--grep', grep] : []),
      ...(timeout ? ['--timeout', String(timeout)] : []),
      ...globs,
    ],
    {
      cwd: root,
      stdio: isShownAtOnce ? 'inherit' : ['ignore', 'pipe', 'pipe'],
      env: {
        ...process.env,
        COBWEB_COUNT_FILE: countFile,
        COBWEB_TEST_DATABASE_URL: url,
        COBWEB_ROOT: root,
      },
    },
  );
  const heard: Buffer[] = [];
  child.stdout?.on('data', (chunk: Buffer) => heard.push(chunk));
  child.stderr?.on('data', (chunk: Buffer) => heard.push(chunk));
  return new Promise((resolve) => {
    child.on('close', () => {
      process.stdout.write(Buffer.concat(heard));
      resolve(readCount(countFile));
    });
  });
}

/** A runner that died before it could count has failed. */
function readCount(path: string): Count {
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as Count;
  } catch {
    return { passed: 0, faults: ['a group of tests ended before it could count'] };
  }
}
