import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';

/**
 * What each part of the project may import from, besides itself. A part is the longest prefix of a path that is
 * listed here.
 */
export const ALLOWED: Readonly<Record<string, readonly string[]>> = {
  'core/math': [],
  'core/mesh': ['core/math'],
  'core/rig': ['core/math', 'core/mesh'],
  'core/reach': ['core/math', 'core/mesh', 'core/rig'],
  'core/bodies': ['core/math', 'core/mesh', 'core/rig'],
  'core/cloth': ['core/math', 'core/mesh', 'core/rig', 'core/reach', 'core/bodies'],
  'core/steps': ['core/math', 'core/mesh', 'core/rig'],
  'core/document': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/reach',
    'core/bodies',
    'core/cloth',
    'core/steps',
  ],
  'core/prepare': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/reach',
    'core/bodies',
    'core/steps',
    'core/document',
  ],
  'core/run': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/reach',
    'core/bodies',
    'core/cloth',
    'core/steps',
    'core/document',
    'core/prepare',
  ],
  'core/cost': ['core/cloth', 'core/document', 'core/run'],
  'core/budget': ['core/math', 'core/rig', 'core/cloth', 'core/document', 'core/run', 'core/cost'],
  'core/trials': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/bodies',
    'core/cloth',
    'core/document',
    'core/run',
    'core/cost',
  ],
  'core/advice': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/bodies',
    'core/cloth',
    'core/steps',
    'core/document',
    'core/prepare',
    'core/run',
    'core/cost',
    'core/trials',
  ],
  'core/levels': [
    'core/math',
    'core/rig',
    'core/bodies',
    'core/cloth',
    'core/document',
    'core/prepare',
    'core/run',
    'core/cost',
    'core/trials',
  ],
  'core/crowd': ['core/math', 'core/levels'],
  'core/suggest': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/bodies',
    'core/document',
    'core/run',
    'core/cost',
    'core/trials',
  ],
  'core/body-figures': [
    'core/math',
    'core/mesh',
    'core/rig',
    'core/bodies',
    'core/document',
    'core/run',
    'core/cost',
    'core/trials',
    'core/suggest',
  ],
  'core/search': ['core/math', 'core/reach', 'core/cloth', 'core/document', 'core/trials'],
  formats: ['core', 'formats/png'],
  'formats/png': ['core', 'formats'],
  demo: ['core', 'formats'],
  server: ['core', 'formats', 'demo'],
  cli: ['core', 'formats', 'server', 'demo'],
  'web/wire': ['core'],
  'web/pages': ['core', 'formats', 'server', 'web'],
  'web/layouts': ['web/styles'],
  'web/manual': [],
  'web/workers': ['core', 'formats/png'],
  'web/state': ['core', 'web/wire', 'web/workers'],
  'web/viewport': ['core', 'web/state', 'web/workers'],
  'web/islands': ['core', 'web/manual', 'web/state', 'web/viewport', 'web/wire', 'web/workers'],
};

/** Platform modules that the core must not know. */
const FORBIDDEN_IN_CORE = /^(node:|react|astro|@mikro-orm|pg)/;

const IMPORT =
  /(?:^|\n)\s*(?:import|export)\b[^'"`;]*?from\s*['"]([^'"]+)['"]|\bimport\(\s*['"]([^'"]+)['"]\s*\)|new URL\(\s*['"](\.[^'"]+)['"]/g;

/** Every import against the arrows, and every cycle, one sentence each; empty when all is well. */
export function checkDependencies(
  root: string,
  folders: readonly string[] = ['core', 'formats', 'demo', 'server', 'cli', 'web'],
): string[] {
  const graph = new Map<string, string[]>();
  const faults: string[] = [];
  for (const file of folders.flatMap((folder) => listSources(join(root, folder)))) {
    const name = relative(root, file);
    // Tests may reach for anything; they are not imported.
    if (/\.test\.tsx?$|\/test-|\/e2e\//.test(name)) continue;
    const targets: string[] = [];
    for (const specifier of listImports(readFileSync(file, 'utf8'))) {
      if (!specifier.startsWith('.')) {
        if (name.startsWith('core/') && FORBIDDEN_IN_CORE.test(specifier))
          faults.push(`${name} imports ${specifier}; the core knows no platform.`);
        continue;
      }
      const target = relative(root, resolve(dirname(file), specifier));
      targets.push(target);
      const fault = checkArrow(name, target);
      if (fault) faults.push(fault);
    }
    graph.set(name, targets);
  }
  return [...faults, ...findCycles(graph)];
}

function checkArrow(from: string, to: string): string | null {
  const part = findPart(from);
  if (!part || to.startsWith(`${part}/`)) return null;
  const isAllowed = ALLOWED[part]!.some((allowed) => to === allowed || to.startsWith(`${allowed}/`));
  return isAllowed
    ? null
    : `${from} imports ${to}; ${part} may import ${ALLOWED[part]!.join(', ') || 'nothing'}.`;
}

function findPart(path: string): string | null {
  const matches = Object.keys(ALLOWED).filter((part) => path.startsWith(`${part}/`));
  return matches.sort((p, q) => q.length - p.length)[0] ?? null;
}

export function listImports(source: string): string[] {
  const code = source.replace(/\/\*[\s\S]*?\*\//g, '').replace(/(^|\s)\/\/.*$/gm, '$1');
  // Imports of types alone do not exist at run time, so they cannot make a cycle; but they are dependencies.
  return [...code.matchAll(IMPORT)].map((match) => (match[1] ?? match[2] ?? match[3])!);
}

export function listSources(folder: string): string[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return listSources(path);
    return /\.(ts|tsx|astro)$/.test(name) && !name.endsWith('.d.ts') ? [path] : [];
  });
}

/** Cycles of imports, each told once, by depth-first search. */
export function findCycles(graph: ReadonlyMap<string, readonly string[]>): string[] {
  const state = new Map<string, 'open' | 'done'>();
  const cycles: string[] = [];
  const visit = (file: string, trail: string[]): void => {
    if (state.get(file) === 'done' || !graph.has(file)) return;
    if (state.get(file) === 'open') {
      cycles.push(`Imports go round: ${[...trail.slice(trail.indexOf(file)), file].join(' → ')}.`);
      return;
    }
    state.set(file, 'open');
    for (const target of graph.get(file)!) visit(target, [...trail, file]);
    state.set(file, 'done');
  };
  for (const file of graph.keys()) visit(file, []);
  return cycles;
}
