/** The bytes of values, as they stand. */
export function toBytes(values: Float32Array): Uint8Array {
  return new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
}

/** Values of bytes, copied. */
export function toFloats(bytes: Uint8Array): Float32Array {
  return new Float32Array(new Uint8Array(bytes).buffer);
}
