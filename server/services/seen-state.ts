import type { ICharacter } from '../entities/entities.ts';
import { hashBytes } from './blob-service.ts';
import { ServiceError } from './service-error.ts';

/** What a page has loaded and saved: its source files, and the version of each record. */
export interface SeenState {
  source: string;
  versions: Record<string, number>;
}

/** One text for one set of source files. */
export function hashSource({ files }: Pick<ICharacter, 'files'>): string {
  const lines = files.map(({ name, hash, isClips }) => `${isClips ? 'clips' : 'file'} ${hash} ${name}`);
  return hashBytes(Buffer.from(lines.join('\n')));
}

export interface StoredVersions {
  source: string;
  /** Of each record, deleted ones too. */
  versions: ReadonlyMap<string, number>;
  deleted: ReadonlySet<string>;
}

/** @throws {ServiceError} 409 when a page has not seen all that is stored. Of what was deleted it need not know. */
export function checkSeen(seen: SeenState, { source, versions, deleted }: StoredVersions): void {
  const isKnown = ([id, version]: [string, number]): boolean => {
    const known = seen.versions[id];
    return known === undefined ? deleted.has(id) : known === version;
  };
  if (seen.source !== source || ![...versions].every(isKnown))
    throw new ServiceError(
      409,
      'Another window has changed this character since this page was loaded, so what is stored is not what you see here. Reload the page, look at it, and try again.',
    );
}
