import type { AuthoredRecord } from '../../core/document/index.ts';

/**
 * A save as it crosses to the server: what changed, and of arrays only the values that did.
 *
 * ```
 * length of the header u32 | header JSON, padded to 4 | numbers: u32 indices and f32 values, one change after the other
 * ```
 */
export const SAVE_CONTENT_TYPE = 'application/x-cobweb-save';
/** More than this is no save of ours. */
export const MOST_SAVE_BYTES = 64 * 2 ** 20;

/** Values of some elements, or of all when there are no indices. */
export interface ArrayEdit {
  /** Rising; null: the whole array. */
  indices: Uint32Array | null;
  values: Float32Array;
}

export interface RecordSave {
  id: string;
  /** Version that the change was made on; 0 for a new record. */
  baseVersion: number;
  /** Null deletes. */
  record: AuthoredRecord | null;
  array?: ArrayEdit;
}

export interface Save {
  /** The window that saves. */
  window: string;
  changes: RecordSave[];
}

interface HeaderChange extends Omit<RecordSave, 'array'> {
  array?: { count: number; isWhole: boolean };
}

export function encodeSave({ window, changes }: Save): Uint8Array<ArrayBuffer> {
  const header = new TextEncoder().encode(
    JSON.stringify({
      window,
      changes: changes.map(
        ({ array, ...change }): HeaderChange => ({
          ...change,
          ...(array && { array: { count: array.values.length, isWhole: array.indices === null } }),
        }),
      ),
    }),
  );
  const start = (4 + header.length + 3) & ~3;
  const size = changes.reduce(
    (sum, { array }) => sum + (array ? (array.indices ? 8 : 4) * array.values.length : 0),
    0,
  );
  const bytes = new Uint8Array(start + size);
  new DataView(bytes.buffer).setUint32(0, header.length, true);
  bytes.set(header, 4);
  let at = start;
  for (const { array } of changes) {
    for (const part of array ? [array.indices, array.values] : []) {
      if (!part) continue;
      bytes.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), at);
      at += part.byteLength;
    }
  }
  return bytes;
}

/** What is checked afterwards, field by field: the header as JSON, with its arrays. @throws {SyntaxError} When the bytes are no save. */
export function decodeSave(bytes: Uint8Array): { header: unknown; arrays: (ArrayEdit | undefined)[] } {
  // A copy: numbers start at whole words of a block of their own.
  const { buffer } = bytes.slice();
  const length = bytes.length >= 4 ? new DataView(buffer).getUint32(0, true) : Number.POSITIVE_INFINITY;
  if (4 + length > bytes.length) throw new SyntaxError('the header of the save is cut short');
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as {
    changes?: { array?: { count?: unknown; isWhole?: unknown } }[];
  };
  let at = (4 + length + 3) & ~3;
  const take = (count: number): number => {
    const from = at;
    at += 4 * count;
    if (at > bytes.length) throw new SyntaxError('the numbers of the save are cut short');
    return from;
  };
  const list = Array.isArray(header?.changes) ? header.changes : [];
  const arrays = list.map((change): ArrayEdit | undefined => {
    const count = change?.array?.count;
    if (count === undefined) return undefined;
    if (!Number.isInteger(count) || (count as number) < 0 || (count as number) > bytes.length)
      throw new SyntaxError('the number of values of the save is none');
    const n = count as number;
    const indices = change.array!.isWhole === true ? null : new Uint32Array(buffer, take(n), n);
    return { indices, values: new Float32Array(buffer, take(n), n) };
  });
  if (at !== bytes.length && at < bytes.length) throw new SyntaxError('the save is longer than it says');
  return { header, arrays };
}
