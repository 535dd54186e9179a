/** Names longer than this are cut on a terminal. */
const LONGEST = 120;

/**
 * Text of a file as it may go to a terminal: control characters, and those that turn the direction of writing, by their numbers. Line
 * breaks stay.
 */
export function toPrintable(text: string): string {
  return text.replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu, (character) =>
    character === '\n' ? character : `\\u{${character.codePointAt(0)!.toString(16)}}`,
  );
}

/** A name of a file on one line of a terminal, not longer than 120 characters. */
export function toPrintableName(name: string): string {
  const text = toPrintable(name.replaceAll('\n', ' '));
  return text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text;
}
