/** Throws when an invariant of our own code does not hold; the sentence says which one. */
export function assert(condition: unknown, sentence: string): asserts condition {
  if (!condition) throw new Error(`Broken invariant: ${sentence}`);
}

/** Checks an array's length at the door of a kernel. @throws {RangeError} naming the argument. */
export function checkLength(name: string, array: ArrayLike<number>, expected: number): void {
  if (array.length !== expected) {
    throw new RangeError(`${name} has ${array.length} elements; ${expected} were expected.`);
  }
}
