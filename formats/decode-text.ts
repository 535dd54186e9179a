/**
 * The text of a file, whichever Unicode form it was saved in: as its mark says, or as the zeros between its letters do;
 * UTF-8 otherwise.
 *
 * @param isStrict - Refuse what is no text. @throws {TypeError} then.
 */
export function decodeText(bytes: Uint8Array, isStrict = false): string {
  return new TextDecoder(findEncoding(bytes), { fatal: isStrict }).decode(bytes);
}

function findEncoding(bytes: Uint8Array): string {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return 'utf-16le';
  if (first === 0xfe && second === 0xff) return 'utf-16be';
  // Plain letters in 16 bits: every other byte is zero.
  const head = bytes.subarray(0, 64);
  const countZeros = (from: number): number => head.filter((byte, i) => i % 2 === from && byte === 0).length;
  const most = 0.4 * head.length;
  if (head.length >= 4 && countZeros(1) > most) return 'utf-16le';
  return head.length >= 4 && countZeros(0) > most ? 'utf-16be' : 'utf-8';
}
