import { execFileSync } from 'node:child_process';
import { chmodSync, chownSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { SetupError } from '../setup-error.ts';

/** The database server refuses root, so as root it runs as another user: which folders that user can use, and making some. */
export interface DatabaseUser {
  uid: number;
  gid: number;
}

/** The user to run the server as when we are root; null when it runs as ourselves. @throws {Error} naming the package to install. */
export function findDatabaseUser(): DatabaseUser | null {
  if (process.getuid?.() !== 0) return null;
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((entry) => entry.startsWith('postgres:'));
  if (!line)
    throw new SetupError(
      'There is no system user "postgres" to run the database as. Install the package postgresql.',
    );
  const [, , uid, gid] = line.split(':');
  return { uid: Number(uid), gid: Number(gid) };
}

/** Whether a user can keep files in a folder that exists: one of its parents may be closed to them. */
export function canUseFolder(folder: string, user: DatabaseUser | null): boolean {
  let probe: string;
  try {
    probe = mkdtempSync(join(folder, 'probe-'));
  } catch {
    return false;
  }
  try {
    if (!user) return true;
    chownSync(probe, user.uid, user.gid);
    execFileSync('/usr/bin/touch', [join(probe, 'file')], { ...user, cwd: '/', stdio: 'ignore' });
    return true;
  } catch {
    return false;
  } finally {
    rmSync(probe, { recursive: true, force: true });
  }
}

/** Makes a folder that everybody may pass through, with its parents, whatever the umask says. What exists stays as it is. */
export function makeOpenFolder(folder: string): void {
  if (existsSync(folder)) return;
  makeOpenFolder(dirname(folder));
  mkdirSync(folder, { recursive: true });
  chmodSync(folder, 0o755);
}

/**
 * A new folder for what is thrown away, which the database's user can use: in the temporary folder, or in that of the
 * system where the temporary folder is closed to them.
 */
export function makeTemporaryFolder(prefix: string): string {
  const user = findDatabaseUser();
  const parents = [resolve(tmpdir()), '/tmp', '/var/tmp'];
  const parent = parents.find((candidate) => canUseFolder(candidate, user));
  if (!parent)
    throw new SetupError(
      `The database's user can keep files in none of ${parents.join(', ')}. Set TMPDIR to a folder that is open to everybody.`,
    );
  const folder = mkdtempSync(join(parent, prefix));
  chmodSync(folder, 0o711);
  return folder;
}
