import type { Character } from '../rig/index.ts';

/** A name that no section has yet: the wished one, or with a number. */
export function chooseSectionName({ sections }: Pick<Character, 'sections'>, target: string): string {
  const taken = new Set(sections.map((section) => section.name));
  let name = target;
  for (let count = 2; taken.has(name); count++) name = `${target} ${count}`;
  return name;
}
