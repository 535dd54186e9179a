import { KERNEL_BINARY } from './kernel-binary.ts';

export interface Kernel {
  /** One frame, on the state that the header describes. */
  advance(): void;
  /** Whether all rows of an array (its first byte) are finite; 0: no. */
  areFinite(rows: number): number;
  /** Numbers of the pairs that are longer than so many times their length at rest stand in `longPairs` then; how many. */
  listLong(most: number): number;
  /** Normals of all surfaces as they stand at the end of the frame. */
  startSurfaces(): void;
}

let compiled: WebAssembly.Module | null = null;

/** A kernel on a memory of its own; the code is compiled once and shared. @param now - Milliseconds. */
export function startKernel(memory: WebAssembly.Memory, now: () => number): Kernel {
  compiled ??= new WebAssembly.Module(decode(KERNEL_BINARY));
  const { exports } = new WebAssembly.Instance(compiled, { env: { memory, now } });
  return exports as unknown as Kernel;
}

function decode(base64: string): Uint8Array<ArrayBuffer> {
  const text = atob(base64);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}
