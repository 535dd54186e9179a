/** Smallest key first, equal keys by value, so that the order depends on the mesh alone. */
export class MinHeap {
  readonly #keys: number[] = [];
  readonly #values: number[] = [];

  push(key: number, value: number): void {
    const keys = this.#keys;
    const values = this.#values;
    let i = keys.length;
    keys.push(key);
    values.push(value);
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (!isBefore(key, value, keys[parent]!, values[parent]!)) break;
      keys[i] = keys[parent]!;
      values[i] = values[parent]!;
      i = parent;
    }
    keys[i] = key;
    values[i] = value;
  }

  clear(): void {
    this.#keys.length = 0;
    this.#values.length = 0;
  }

  /** @returns The value, or -1 when empty. */
  pop(): number {
    const keys = this.#keys;
    const values = this.#values;
    if (keys.length === 0) return -1;
    const first = values[0]!;
    const key = keys.pop()!;
    const value = values.pop()!;
    const size = keys.length;
    if (size === 0) return first;
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= size) break;
      if (child + 1 < size && isBefore(keys[child + 1]!, values[child + 1]!, keys[child]!, values[child]!)) {
        child++;
      }
      if (!isBefore(keys[child]!, values[child]!, key, value)) break;
      keys[i] = keys[child]!;
      values[i] = values[child]!;
      i = child;
    }
    keys[i] = key;
    values[i] = value;
    return first;
  }
}

function isBefore(key: number, value: number, otherKey: number, otherValue: number): boolean {
  return key < otherKey || (key === otherKey && value < otherValue);
}
