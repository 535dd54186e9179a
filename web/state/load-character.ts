import { type AuthoredDocument, createDocument } from '../../core/document/index.ts';
import { api, type CharacterInfo } from './api.ts';

export interface LoadedCharacter {
  info: CharacterInfo;
  document: AuthoredDocument;
  /** As `packCharacter` makes it. */
  packed: ArrayBuffer;
}

/** A character with everything authored for it. @throws {Error} When it is not there. */
export async function loadCharacter(id: string): Promise<LoadedCharacter> {
  const [info, packed] = await Promise.all([api.readCharacter(id), api.readPacked(id)]);
  const document = createDocument();
  await Promise.all(
    info.records.map(async ({ record, arrayHash }) => {
      document.records.set(record.id, record);
      if (arrayHash) document.arrays.set(record.id, new Float32Array(await api.readBlob(arrayHash)));
    }),
  );
  return { info, document, packed };
}
