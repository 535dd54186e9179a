import type { Section } from './character.ts';

const known = new WeakMap<Section, string>();

/**
 * A name for the content of a section: two with the same arrays and settings have the same, whoever holds them, and two
 * that differ anywhere do not (128 bits; not made to withstand an attacker). Remembered for each object, so a section
 * must not be written to once it was asked for. About 1 ms for 1 MB.
 *
 * Ours: four lanes of multiply and xor-shift over 32-bit words, mixed at the end as in A. Appleby's MurmurHash3 (2011).
 */
export function hashSection(section: Section): string {
  let hash = known.get(section);
  if (hash === undefined) {
    hash = computeHash(section);
    known.set(section, hash);
  }
  return hash;
}

/** Notes what a section hashes to, when that is known from elsewhere. */
export function rememberHash(section: Section, hash: string): void {
  known.set(section, hash);
}

function computeHash(section: Section): string {
  const arrays: ArrayBufferView[] = [];
  const rest = JSON.stringify(section, (_key, value: unknown) => {
    if (!ArrayBuffer.isView(value)) return value;
    arrays.push(value);
    return `${value.constructor.name} ${value.byteLength}`;
  });
  const lanes = Uint32Array.of(0x9e3779b9, 0x85ebca6b, 0xc2b2ae35, 0x27d4eb2f);
  for (const view of [new TextEncoder().encode(rest), ...arrays]) mixBytes(lanes, view);
  return [...lanes].map((lane) => finish(lane).toString(16).padStart(8, '0')).join('');
}

/** Multipliers of the lanes: odd, and unlike each other. */
const FACTORS = [0xcc9e2d51, 0x1b873593, 0xe6546b65, 0xab0e9789] as const;

function mixBytes(lanes: Uint32Array, view: ArrayBufferView): void {
  const bytes = new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
  const wordCount = bytes.length >>> 2;
  // Words where they are aligned, copied otherwise; what is left over counts as one more.
  const words =
    bytes.byteOffset % 4 === 0
      ? new Uint32Array(bytes.buffer, bytes.byteOffset, wordCount)
      : new Uint32Array(bytes.slice(0, 4 * wordCount).buffer);
  let [a, b, c, d] = lanes as unknown as [number, number, number, number];
  const [fa, fb, fc, fd] = FACTORS;
  for (let i = 0; i < wordCount; i++) {
    const word = words[i]!;
    a = Math.imul(a ^ word, fa);
    a ^= a >>> 15;
    b = Math.imul(b ^ word ^ a, fb);
    b ^= b >>> 13;
    c = Math.imul(c ^ word ^ b, fc);
    c ^= c >>> 16;
    d = Math.imul(d ^ word ^ c, fd);
    d ^= d >>> 14;
  }
  let last = bytes.length & 3;
  for (let k = 4 * wordCount; k < bytes.length; k++) last = (last << 8) | bytes[k]!;
  lanes[0] = Math.imul(a ^ last, fa);
  lanes[1] = Math.imul(b ^ last ^ a, fb);
  lanes[2] = Math.imul(c ^ bytes.length ^ b, fc);
  lanes[3] = Math.imul(d ^ last ^ c, fd);
}

function finish(lane: number): number {
  let h = lane;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
