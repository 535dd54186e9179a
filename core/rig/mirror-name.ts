/** Patterns that mark a side in joint names, tried in order; each pair swaps both ways. */
const SIDE_PATTERNS: readonly [RegExp, (match: RegExpMatchArray) => string][] = [
  [/^(.*[_.\-\s])([lr])$/i, (m) => m[1] + swapLetter(m[2]!)],
  [/^([lr])([_.\-\s].*)$/i, (m) => swapLetter(m[1]!) + m[2]],
  [/^(.*[_.\-\s])([lr])([_.\-\s0-9].*)$/i, (m) => m[1] + swapLetter(m[2]!) + m[3]],
  [/^(.*?)(left|right)(.*)$/i, (m) => m[1] + swapWord(m[2]!) + m[3]],
];

/** Name of the same joint on the other side (`leg_l` → `leg_r`), or null when the name has no side. */
export function mirrorName(name: string): string | null {
  for (const [pattern, swap] of SIDE_PATTERNS) {
    const match = name.match(pattern);
    if (match) return swap(match);
  }
  return null;
}

function swapLetter(letter: string): string {
  return { l: 'r', r: 'l', L: 'R', R: 'L' }[letter]!;
}

function swapWord(word: string): string {
  const swapped = word.toLowerCase() === 'left' ? 'right' : 'left';
  if (word === word.toUpperCase()) return swapped.toUpperCase();
  return word[0] === word[0]!.toUpperCase() ? swapped[0]!.toUpperCase() + swapped.slice(1) : swapped;
}
