import { type AuthoredDocument, listSteps } from '../../core/document/index.ts';
import { adoptRig, adoptSections, type Character, unpackCharacter } from '../../core/rig/index.ts';
import { api, type CharacterInfo } from './api.ts';
import { readRecords, readState } from './history-client.ts';
import { PreparationClient } from './preparation-client.ts';
import type { ViewedVersion } from './viewed-version.ts';

export interface LoadedCharacter {
  info: CharacterInfo;
  document: AuthoredDocument;
  /** With all steps of preparation applied; its arrays stand in shared memory. */
  character: Character;
  preparation: PreparationClient;
}

/**
 * A character with everything authored for it.
 * @param version - As it was in an earlier version. @throws {Error} When it is not there.
 */
export async function loadCharacter(
  id: string,
  version: ViewedVersion | null = null,
): Promise<LoadedCharacter> {
  const [info, earlier] = await Promise.all([api.readCharacter(id), version ? readState(id, version) : null]);
  const [source, document] = await Promise.all([
    readSource(info.packedHash),
    readRecords(earlier ?? info.records),
  ]);
  document.projectLimits = info.project.limits;
  const preparation = new PreparationClient(source, document);
  if (listSteps(document).length === 0) return { info, document, character: source, preparation };
  const { sections, rig } = await preparation.prepare();
  return { info, document, character: adoptSections(adoptRig(source, rig), sections), preparation };
}

/** The character as it came, in one block of memory that the page and all workers see. */
async function readSource(packedHash: string): Promise<Character> {
  const bytes = await api.readBlob(packedHash);
  const shared = new SharedArrayBuffer(bytes.byteLength);
  new Uint8Array(shared).set(new Uint8Array(bytes));
  return unpackCharacter(shared);
}
