export type IntakeErrorCode =
  | 'no-file'
  | 'unknown-format'
  | 'too-large'
  | 'truncated'
  | 'damaged-container'
  | 'damaged-json'
  | 'wrong-version'
  | 'unsupported-extension'
  | 'missing-file'
  | 'bad-reference'
  | 'cyclic-nodes'
  | 'out-of-bounds'
  | 'wrong-type'
  | 'wrong-count'
  | 'not-a-number'
  | 'index-out-of-range'
  | 'no-geometry'
  | 'no-clips'
  | 'other-skeleton'
  | 'bad-syntax'
  | 'unreadable'
  | 'timed-out'
  | 'out-of-memory';

/** A file that cannot be used: which file, which element, what was found, and what to do. */
export class IntakeError extends Error {
  override readonly name = 'IntakeError';
  constructor(
    readonly code: IntakeErrorCode,
    readonly file: string,
    /** The element, as a person would look for it: `mesh 2 "Poncho", primitive 0`. Empty for the whole file. */
    readonly where: string,
    readonly found: string,
    readonly remedy: string,
  ) {
    super(`${file}${where ? `, ${where}` : ''}: ${found} ${remedy}`);
  }

  toJSON(): IntakeErrorData {
    const { code, file, where, found, remedy, message } = this;
    return { code, file, where, found, remedy, message };
  }
}

export interface IntakeErrorData {
  code: IntakeErrorCode;
  file: string;
  where: string;
  found: string;
  remedy: string;
  message: string;
}
