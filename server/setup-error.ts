/** Something on this machine that is missing or closed to us; the message says what, where, and what to do. */
export class SetupError extends Error {
  override readonly name = 'SetupError';
}
