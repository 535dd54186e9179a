import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { findProjectRoot } from '../server/project-root.ts';

const SOURCES = [
  'web',
  'core',
  'formats',
  'server',
  'demo',
  // The manual is a part of the pages.
  'docs/manual',
  'docs/formats',
  'docs/screenshots',
  'docs/glossary.md',
  'astro.config.ts',
  'package-lock.json',
  'tsconfig.json',
];

/** Builds the pages when any source changed since the last build. @throws {Error} with the output when it fails. */
export function buildWhenChanged(say: (line: string) => void): void {
  const root = findProjectRoot();
  const stamp = join(root, 'dist', '.sources');
  const hash = hashSources(root);
  if (
    existsSync(stamp) &&
    readFileSync(stamp, 'utf8') === hash &&
    existsSync(join(root, 'dist', 'server', 'entry.mjs'))
  ) {
    say('pages: built already');
    return;
  }
  say('pages: building (half a minute)');
  const result = spawnSync(process.execPath, [join(root, 'node_modules', 'astro', 'astro.js'), 'build'], {
    cwd: root,
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1' },
    encoding: 'utf8',
  });
  if (result.status !== 0)
    throw new Error(`The pages could not be built:\n${result.stdout}\n${result.stderr}`);
  writeFileSync(stamp, hash);
}

function hashSources(root: string): string {
  const hash = createHash('sha256');
  const add = (path: string): void => {
    if (!existsSync(path)) return;
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) add(join(path, name));
    else if (!path.endsWith('.test.ts')) hash.update(path.slice(root.length)).update(readFileSync(path));
  };
  for (const source of SOURCES) add(join(root, source));
  return hash.digest('hex');
}
