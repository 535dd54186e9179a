/**
 * A copy with each typed array in memory that all threads see, however deep it stands in plain objects and lists; everything
 * else is the same. Where there is no shared memory (a page without isolation) it is the value itself. Ours.
 *
 * Nobody writes to the arrays once they are shared.
 */
export function shareArrays<T>(value: T): T {
  return typeof SharedArrayBuffer === 'undefined' ? value : (copy(value) as T);
}

/** Whether the elements of an array are in memory that all threads see. */
export function isShared({ buffer }: ArrayBufferView): boolean {
  return typeof SharedArrayBuffer !== 'undefined' && buffer instanceof SharedArrayBuffer;
}

function copy(value: unknown): unknown {
  if (ArrayBuffer.isView(value)) return isShared(value) ? value : copyArray(value as Float32Array);
  if (Array.isArray(value)) return value.map(copy);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, copy(inner)]));
}

function copyArray(array: Float32Array): Float32Array {
  const Kind = array.constructor as Float32ArrayConstructor;
  const shared = new Kind(new SharedArrayBuffer(array.byteLength));
  shared.set(array);
  return shared;
}
