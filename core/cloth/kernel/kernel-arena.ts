import type { Arena } from '../solver-state.ts';

const PAGE = 65536;
/** Rows are read 16 bytes at a time. */
const ALIGNMENT = 16;

/** Gives out pieces of one WebAssembly memory of just the size that is needed. */
export class KernelArena implements Arena {
  readonly memory: WebAssembly.Memory;
  #next: number;

  private constructor(start: number, bytes: number, shared: boolean) {
    const pages = Math.ceil(bytes / PAGE);
    this.memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared });
    this.#next = start;
  }

  /**
   * @param isShared - Other threads see the memory, too.
   * @param allocate - Asks for everything that will be asked for, once, to learn the size.
   */
  static measure(start: number, isShared: boolean, allocate: (arena: KernelArena) => void): KernelArena {
    const counting = new CountingArena(start);
    allocate(counting as unknown as KernelArena);
    return new KernelArena(start, counting.bytes, isShared);
  }

  floats(length: number): Float32Array {
    return new Float32Array(this.memory.buffer, this.#take(4 * length), length);
  }

  words(length: number): Uint32Array {
    return new Uint32Array(this.memory.buffer, this.#take(4 * length), length);
  }

  #take(bytes: number): number {
    const at = this.#next;
    this.#next += ALIGNMENT * Math.ceil(bytes / ALIGNMENT);
    return at;
  }
}

class CountingArena implements Arena {
  bytes: number;

  constructor(start: number) {
    this.bytes = start;
  }

  floats(length: number): Float32Array {
    this.#count(length);
    return new Float32Array(length);
  }

  words(length: number): Uint32Array {
    this.#count(length);
    return new Uint32Array(length);
  }

  #count(length: number): void {
    this.bytes += ALIGNMENT * Math.ceil((4 * length) / ALIGNMENT);
  }
}
