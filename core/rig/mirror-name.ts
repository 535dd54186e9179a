/** What marks the two sides in joint names: each swaps for the other. A low line stands for any of `_ . -` and a space. */
export type SidePair = readonly [one: string, other: string];

/** Pairs that are tried in order where a character has none of its own. */
export const SIDE_PAIRS: readonly SidePair[] = [
  ['_l', '_r'],
  ['l_', 'r_'],
  ['left', 'right'],
];

const SEPARATOR = '[_.\\-\\s]';

/**
 * Name of the same joint on the other side (`leg_l` → `leg_r`), or null when no pair marks a side in it. A mark that begins with a separator
 * is followed by another one, a digit or the end; one that ends with a separator begins the name or follows another; any other stands
 * anywhere. Upper and lower case stay as they are.
 */
export function mirrorName(name: string, pairs: readonly SidePair[] = SIDE_PAIRS): string | null {
  for (const pair of pairs) {
    for (const [from, to] of [pair, [pair[1], pair[0]]] as const) {
      const match = name.match(toPattern(from));
      if (!match) continue;
      const [whole, before, mark] = match as unknown as [string, string, string];
      const at = match.index! + before.length;
      return name.slice(0, at) + writeLike(to, mark) + name.slice(match.index! + whole.length);
    }
  }
  return null;
}

function toPattern(mark: string): RegExp {
  const body = mark.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replaceAll('_', SEPARATOR);
  const isTail = mark.startsWith('_');
  const isHead = mark.endsWith('_');
  // What is at the end of a name says more than what is in it.
  if (isTail) return new RegExp(`()(${body})(?=$|${SEPARATOR}|[0-9])`, 'i');
  if (isHead) return new RegExp(`(^|${SEPARATOR})(${body})`, 'i');
  return new RegExp(`()(${body})`, 'i');
}

/** A mark in the case of another, with its separators. */
function writeLike(mark: string, like: string): string {
  if (mark.length === like.length) {
    return [...mark].map((letter, i) => (letter === '_' ? like[i]! : matchCase(letter, like[i]!))).join('');
  }
  if (like === like.toUpperCase()) return mark.toUpperCase();
  const first = like[0]!;
  return matchCase(mark[0]!, first) + mark.slice(1).toLowerCase();
}

function matchCase(letter: string, like: string): string {
  return like === like.toLowerCase() ? letter.toLowerCase() : letter.toUpperCase();
}
