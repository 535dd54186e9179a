import { readFileSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { type ReadCharacter, readCharacter, type SourceFile } from '../formats/index.ts';
import { UsageError } from './usage-error.ts';

/** Reads a character file; a .gltf brings the files it names from its own folder and below. */
export async function readSource(path: string): Promise<ReadCharacter> {
  return readCharacter(gatherFiles(path));
}

export function gatherFiles(path: string): SourceFile[] {
  const main = { name: basename(path), bytes: readBytes(path) };
  if (!path.toLowerCase().endsWith('.gltf')) return [main];
  return [main, ...listUris(main.bytes).flatMap((uri) => readNeighbour(path, uri))];
}

function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    const reason =
      (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message;
    throw new UsageError(`${path}: ${reason}.`);
  }
}

function listUris(bytes: Uint8Array): string[] {
  try {
    const json = JSON.parse(new TextDecoder().decode(bytes)) as Record<
      string,
      { uri?: unknown }[] | undefined
    >;
    return [...(json.buffers ?? []), ...(json.images ?? [])].flatMap(({ uri }) =>
      typeof uri === 'string' && !uri.startsWith('data:') ? [uri] : [],
    );
  } catch {
    // The reader says what is wrong with it.
    return [];
  }
}

/** A file beside the .gltf; never one above its folder. */
function readNeighbour(path: string, uri: string): SourceFile[] {
  const folder = resolve(dirname(path));
  const neighbour = resolve(folder, decodeURIComponent(uri));
  if (!neighbour.startsWith(`${folder}/`)) return [];
  try {
    return [{ name: decodeURIComponent(uri), bytes: readFileSync(neighbour) }];
  } catch {
    return [];
  }
}
