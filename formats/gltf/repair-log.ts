import type { ReportNote } from '../../core/document/index.ts';

/** Collects what was decoded, repaired and found odd while a file is read. */
export class RepairLog {
  readonly decoded = new Set<string>();
  readonly repairs: ReportNote[] = [];
  readonly odd: ReportNote[] = [];

  repair(code: string, where: string, sentence: string): void {
    this.repairs.push({ code, where, sentence });
  }

  note(code: string, where: string, sentence: string): void {
    this.odd.push({ code, where, sentence });
  }
}

/** Names made unique by a number behind the later ones; empty names become `fallback n`. */
export function makeNamesUnique(
  names: readonly string[],
  fallback: string,
  onChange: (index: number, before: string, after: string) => void,
): string[] {
  const taken = new Set(names.filter((name) => name.trim() !== ''));
  const used = new Set<string>();
  return names.map((name, index) => {
    const base = name.trim() === '' ? `${fallback} ${index}` : name;
    let unique = base;
    for (let n = 2; used.has(unique) || (unique !== name && taken.has(unique)); n++)
      unique = `${base} (${n})`;
    used.add(unique);
    if (unique !== name) onChange(index, name, unique);
    return unique;
  });
}
