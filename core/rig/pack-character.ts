import type { Character, Clip, MorphTarget, Section, Skin } from './character.ts';

/**
 * A character as one block of bytes for our own use between server, page and workers (not a format to ship):
 *
 * ```
 * "CBWC" | version u32 | header length u32 | header JSON (UTF-8, padded to 8) | arrays, each padded to 8
 * ```
 * Version 2 is in metres in every space; version 1 was in the units of the file.
 * The header is the character with every typed array replaced by `{"$array": kind, "at": byte, "count": n}`.
 */
export const PACKED_CHARACTER_VERSION = 2;
const MAGIC = 0x43574243;

const ARRAY_KINDS = {
  f32: Float32Array,
  f64: Float64Array,
  u32: Uint32Array,
  i32: Int32Array,
  u16: Uint16Array,
};
type ArrayKind = keyof typeof ARRAY_KINDS;
type PackedArray = { $array: ArrayKind; at: number; count: number };
type TypedArray = Float32Array | Float64Array | Uint32Array | Int32Array | Uint16Array;

/** A character as one block of bytes, see the layout above. O(its size). */
export function packCharacter(character: Character): Uint8Array<ArrayBuffer> {
  const arrays: { at: number; array: TypedArray }[] = [];
  let at = 0;
  const header = JSON.stringify(character, (_key, value: unknown) => {
    const kind = kindOf(value);
    if (!kind) return value;
    const array = value as TypedArray;
    const packed: PackedArray = { $array: kind, at, count: array.length };
    arrays.push({ at, array });
    at += (array.byteLength + 7) & ~7;
    return packed;
  });
  const headerBytes = new TextEncoder().encode(header);
  const start = (12 + headerBytes.length + 7) & ~7;
  const bytes = new Uint8Array(start + at);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, PACKED_CHARACTER_VERSION, true);
  view.setUint32(8, headerBytes.length, true);
  bytes.set(headerBytes, 12);
  for (const { at: offset, array } of arrays) {
    bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), start + offset);
  }
  return bytes;
}

/** @throws {Error} If the bytes are not a packed character. */
function readHeader(bytes: ArrayBufferLike): { version: number; header: string; start: number } {
  const view = new DataView(bytes);
  if (bytes.byteLength < 12 || view.getUint32(0, true) !== MAGIC) throw new Error('Not a packed character.');
  const headerLength = view.getUint32(8, true);
  return {
    version: view.getUint32(4, true),
    // Text is not read from shared memory: a slice is not shared.
    header: new TextDecoder().decode(new Uint8Array(bytes, 12, headerLength).slice()),
    start: (12 + headerLength + 7) & ~7,
  };
}

/** Names of the nodes of a packed character of any version. @throws {Error} If the bytes are none. */
export function readPackedNames(bytes: ArrayBufferLike): string[] {
  return (JSON.parse(readHeader(bytes).header) as Character).skeleton.names;
}

/** @throws {Error} If the bytes are not a packed character of this version. Arrays are views into `bytes`. */
export function unpackCharacter(bytes: ArrayBufferLike): Character {
  const { version, header, start } = readHeader(bytes);
  if (version !== PACKED_CHARACTER_VERSION) {
    throw new Error(`Packed character of version ${version}; this build reads ${PACKED_CHARACTER_VERSION}.`);
  }
  return JSON.parse(header, (_key, value: unknown) => {
    if (value === null || typeof value !== 'object' || !('$array' in value)) return value;
    const { $array, at, count } = value as PackedArray;
    // The types of the constructors know no shared memory; they take it all the same.
    return new ARRAY_KINDS[$array](bytes as ArrayBuffer, start + at, count);
  }) as Character;
}

/** Every typed array of a character, to compare or to transfer. */
export function listArrays(character: Character): TypedArray[] {
  const arrays: TypedArray[] = [
    character.skeleton.parents,
    character.skeleton.translations,
    character.skeleton.rotations,
    character.skeleton.scales,
  ];
  const add = (item: Skin | Section | Clip['tracks'][number] | MorphTarget): void => {
    for (const value of Object.values(item)) if (kindOf(value)) arrays.push(value as TypedArray);
  };
  character.skins.forEach(add);
  for (const section of character.sections) {
    add(section);
    section.morphs.forEach(add);
  }
  for (const clip of character.clips) clip.tracks.forEach(add);
  return arrays;
}

function kindOf(value: unknown): ArrayKind | null {
  if (!ArrayBuffer.isView(value)) return null;
  for (const [kind, type] of Object.entries(ARRAY_KINDS)) if (value instanceof type) return kind as ArrayKind;
  return null;
}
