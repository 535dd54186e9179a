import { api, type CharacterInfo, type Shipment } from './api.ts';
import type { Saver } from './saver.ts';

/**
 * Writes the finished file of what is on the screen: all of it is saved first, and the server refuses when it holds
 * anything that this page has not seen.
 * @throws {UnsavedError | ApiError} Whose message says why nothing was written.
 */
export async function shipCharacter(
  saver: Saver,
  { id, source }: Pick<CharacterInfo, 'id' | 'source'>,
): Promise<Shipment> {
  await saver.flush();
  return api.ship(id, { source, versions: saver.versions });
}
