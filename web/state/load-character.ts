import { type AuthoredDocument, createDocument, listSteps } from '../../core/document/index.ts';
import { api, type CharacterInfo } from './api.ts';
import { PreparationClient } from './preparation-client.ts';

export interface LoadedCharacter {
  info: CharacterInfo;
  document: AuthoredDocument;
  /** The character as it came, as `packCharacter` makes it. */
  source: ArrayBuffer;
  /** The same with all steps of preparation applied; the same block when there are none. */
  packed: ArrayBuffer;
  preparation: PreparationClient;
}

/** A character with everything authored for it. @throws {Error} When it is not there. */
export async function loadCharacter(id: string): Promise<LoadedCharacter> {
  const [info, source] = await Promise.all([api.readCharacter(id), api.readPacked(id)]);
  const document = createDocument();
  await Promise.all(
    info.records.map(async ({ record, arrayHash }) => {
      document.records.set(record.id, record);
      if (arrayHash) document.arrays.set(record.id, new Float32Array(await api.readBlob(arrayHash)));
    }),
  );
  const preparation = new PreparationClient(source, document);
  if (listSteps(document).length === 0) return { info, document, source, packed: source, preparation };
  const { packed } = await preparation.prepare();
  return { info, document, source, packed: packed.buffer, preparation };
}
