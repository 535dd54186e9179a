/** Rows one after the other in one array. */
export function concatenate(parts: readonly ArrayLike<number>[]): Float32Array {
  const joined = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let fill = 0;
  for (const part of parts) {
    joined.set(part, fill);
    fill += part.length;
  }
  return joined;
}
