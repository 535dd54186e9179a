import { readFileSync } from 'node:fs';
import { isBuiltin } from 'node:module';
import { join, relative } from 'node:path';
import { listImports, listSources } from './dependency-directions.ts';

const APPLICATION = ['core', 'formats', 'demo', 'server', 'web', 'cli'];
/** Run by those who build Cobweb, not by those who use it. */
const FOR_DEVELOPERS = /\.test\.tsx?$|\/test-|^cli\/(bench|checks)\/|^cli\/commands\/(bench|test)\.ts$/;
/** What the page framework provides itself. */
const VIRTUAL = /^astro:/;

/** Every package that the application imports and package.json does not list as one of its dependencies, a sentence each. */
export function checkRuntimePackages(root: string, folders: readonly string[] = APPLICATION): string[] {
  const { dependencies } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as {
    dependencies: Record<string, string>;
  };
  const faults: string[] = [];
  for (const file of folders.flatMap((folder) => listSources(join(root, folder)))) {
    const name = relative(root, file);
    if (FOR_DEVELOPERS.test(name)) continue;
    for (const specifier of listImports(readFileSync(file, 'utf8'))) {
      if (specifier.startsWith('.') || isBuiltin(specifier) || VIRTUAL.test(specifier)) continue;
      const parts = specifier.split('/');
      const found = specifier.startsWith('@') ? `${parts[0]}/${parts[1]}` : parts[0]!;
      if (!(found in dependencies))
        faults.push(`${name} imports ${found}, which is not among the dependencies in package.json.`);
    }
  }
  return faults;
}
