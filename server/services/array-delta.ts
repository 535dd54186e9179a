import type { ArrayEdit } from './record-change.ts';

/**
 * Changes of an array since it was stored whole: indices u32, then values f32, as many, little-endian. So a stroke over a
 * large map does not make another large blob.
 */
export function packDelta(values: ReadonlyMap<number, number>): Buffer {
  const indices = Uint32Array.from([...values.keys()].sort((p, q) => p - q));
  const after = Float32Array.from(indices, (index) => values.get(index)!);
  return Buffer.concat([Buffer.from(indices.buffer), Buffer.from(after.buffer)]);
}

export function unpackDelta(delta: Uint8Array | null | undefined): Map<number, number> {
  const values = new Map<number, number>();
  if (!delta) return values;
  // A copy: numbers start at whole words of a block of their own.
  const { buffer } = new Uint8Array(delta);
  const count = delta.length / 8;
  const indices = new Uint32Array(buffer, 0, count);
  const after = new Float32Array(buffer, 4 * count, count);
  indices.forEach((index, k) => {
    values.set(index, after[k]!);
  });
  return values;
}

/** A delta with more values on top. */
export function extendDelta(
  delta: Uint8Array | null | undefined,
  { indices, values }: ArrayEdit,
): Map<number, number> {
  const extended = unpackDelta(delta);
  indices?.forEach((index, k) => {
    extended.set(index, values[k]!);
  });
  return extended;
}

/** An array with its delta. Changes `values`. */
export function applyDelta(values: Float32Array, delta: ReadonlyMap<number, number>): Float32Array {
  for (const [index, value] of delta) values[index] = value;
  return values;
}
