/** A command that was called in a way it cannot follow, or on something that is not there. */
export class UsageError extends Error {
  override readonly name = 'UsageError';
}
