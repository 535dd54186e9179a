/** The two parts of a packed trial as one answer: length of the first (uint32, little-endian), the first, the second. */
export function joinParts(measured: Uint8Array, machine: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(4 + measured.length + machine.length);
  new DataView(bytes.buffer).setUint32(0, measured.length, true);
  bytes.set(measured, 4);
  bytes.set(machine, 4 + measured.length);
  return bytes;
}

/** @throws {Error} When they are not such bytes. */
export function splitParts(bytes: Uint8Array): { measured: Uint8Array; machine: Uint8Array } {
  const length =
    bytes.length >= 4 ? new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) : bytes.length;
  if (4 + length > bytes.length) throw new Error('The answer of the server is cut off.');
  return { measured: bytes.subarray(4, 4 + length), machine: bytes.subarray(4 + length) };
}
