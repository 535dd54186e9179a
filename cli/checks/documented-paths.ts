import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** Texts that tell where things are. */
export const GUIDES: readonly string[] = [
  'README.md',
  'CONTRIBUTING.md',
  'docs/architecture.md',
  'docs/glossary.md',
];

/** Every path of the project, and every link, that a guide names and that does not exist; a sentence each. */
export function checkDocumentedPaths(root: string, guides: readonly string[] = GUIDES): string[] {
  return guides.flatMap((guide) => {
    const text = readFileSync(join(root, guide), 'utf8');
    const named = [...text.matchAll(/`([\w.-]+(?:\/[\w.[\]-]+)+\/?)`/g)].map((match) => match[1]!);
    const linked = [...text.matchAll(/\]\(([^)#:]+)(?:#[^)]*)?\)/g)].map((match) =>
      join(dirname(guide), match[1]!),
    );
    return [...named, ...linked]
      .filter((path) => !existsSync(join(root, path)))
      .map((path) => `${guide} names ${path}, which is not there.`);
  });
}
