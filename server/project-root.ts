import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Folder of the project: the sources stay beside the built server, which starts workers from them. */
export function findProjectRoot(): string {
  let folder = process.env.COBWEB_ROOT ?? dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'server', 'intake', 'intake-worker.ts'))) {
    const parent = dirname(folder);
    if (parent === folder) throw new Error('The project folder was not found. Set COBWEB_ROOT.');
    folder = parent;
  }
  return folder;
}
