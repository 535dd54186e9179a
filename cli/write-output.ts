import { writeFileSync } from 'node:fs';
import { UsageError } from './usage-error.ts';

/** Writes a file. @throws {UsageError} with the reason in one line when it cannot be written. */
export function writeOutput(path: string, content: string | Uint8Array): void {
  try {
    writeFileSync(path, content);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    throw new UsageError(`${path}: it cannot be written: ${REASONS[code ?? ''] ?? message}.`);
  }
}

const REASONS: Record<string, string> = {
  ENOENT: 'there is no such folder',
  EISDIR: 'it is a folder',
  ENOTDIR: 'a part of its path is a file',
  EACCES: 'you may not write there',
  EPERM: 'you may not write there',
  EROFS: 'what it is on can only be read',
  ENOSPC: 'there is no space left',
  ENAMETOOLONG: 'its name is too long',
};
