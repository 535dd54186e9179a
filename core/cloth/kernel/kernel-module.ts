import { KERNEL_BINARY, KERNEL_MEMORY_FLAG } from './kernel-binary.ts';

/** How a module says what its memory is like: it has a maximum; and it is shared. */
const OWN_MEMORY = 1;
const SHARED_MEMORY = 3;

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

/** By whether its memory is shared. */
const compiled = new Map<boolean, WebAssembly.Module>();

/**
 * A kernel on a memory; the code is compiled once and used for all.
 * @param now - Milliseconds. @param isShared - Whether other threads see the memory, too.
 */
export function startKernel(memory: WebAssembly.Memory, now: () => number, isShared = false): Kernel {
  const { exports } = new WebAssembly.Instance(compile(isShared), { env: { memory, now } });
  return exports as unknown as Kernel;
}

function compile(isShared: boolean): WebAssembly.Module {
  const known = compiled.get(isShared);
  if (known) return known;
  const bytes = decode(KERNEL_BINARY);
  // The same code, whether its memory is shared or not: that is said by one flag of what it imports.
  bytes[KERNEL_MEMORY_FLAG] = isShared ? SHARED_MEMORY : OWN_MEMORY;
  const made = new WebAssembly.Module(bytes);
  compiled.set(isShared, made);
  return made;
}

function decode(base64: string): Uint8Array<ArrayBuffer> {
  const text = atob(base64);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}
