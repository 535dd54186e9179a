import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { UsageError } from '../usage-error.ts';
import { listImports, listSources } from './dependency-directions.ts';

const FOLDERS = ['core', 'formats', 'demo', 'server', 'cli', 'web', 'e2e'];
const IS_TEST = /\.(test|e2e)\.tsx?$/;

/** Files that differ from a revision, new ones too, relative to the root. @throws {UsageError} Without such a revision. */
export function listChangedFiles(root: string, revision: string): string[] {
  const git = (...args: string[]): string[] => {
    const { status, stdout, stderr } = spawnSync('git', args, { cwd: root, encoding: 'utf8' });
    if (status !== 0) throw new UsageError(`git says of "${revision}": ${stderr.trim()}`);
    return stdout.split('\n').filter(Boolean);
  };
  return [
    ...git('diff', '--name-only', revision, '--'),
    ...git('ls-files', '--others', '--exclude-standard'),
  ];
}

/**
 * Tests that a change of some files can break: those that import them, whatever lies between. What is driven in a browser
 * depends on the whole application, and so on every source of it.
 *
 * @param changed - Relative to the root. @returns Files of tests, relative to the root.
 */
export function findAffectedTests(root: string, changed: readonly string[]): string[] {
  const importers = new Map<string, string[]>();
  const tests: string[] = [];
  for (const file of FOLDERS.flatMap((folder) => listSources(join(root, folder)))) {
    const name = relative(root, file);
    if (IS_TEST.test(name)) tests.push(name);
    for (const specifier of listImports(readFileSync(file, 'utf8'))) {
      if (!specifier.startsWith('.')) continue;
      const target = relative(root, resolve(dirname(file), specifier));
      importers.set(target, [...(importers.get(target) ?? []), name]);
    }
  }
  const reached = new Set<string>();
  const visit = (name: string): void => {
    if (reached.has(name)) return;
    reached.add(name);
    for (const importer of importers.get(name) ?? []) visit(importer);
  };
  for (const name of changed) visit(name);
  const isOfApplication = changed.some(
    (name) =>
      /^(core|formats|demo|server|web|cli)\//.test(name) &&
      !IS_TEST.test(name) &&
      existsSync(join(root, name)),
  );
  // Whoever changes the packages or how things are built may break anything.
  if (changed.some((name) => /^(package(-lock)?\.json|tsconfig\.json|astro\.config\.ts|cobweb)$/.test(name)))
    return tests;
  return tests.filter((name) => reached.has(name) || (isOfApplication && name.startsWith('e2e/')));
}
