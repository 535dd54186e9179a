import { ApiError, api, type CharacterInfo, type Shipment } from './api.ts';
import type { Saver } from './saver.ts';

/** Whoever goes on working while the file is written may change what is stored so many times. */
const MOST_ATTEMPTS = 4;

/**
 * Writes the finished file of what is on the screen: all of it is saved first, and the server refuses when it holds
 * anything that this page has not seen. When that is a save of this very page, which came in between, it asks again.
 * @throws {UnsavedError | ApiError} Whose message says why nothing was written.
 */
export async function shipCharacter(
  saver: Saver,
  { id, source }: Pick<CharacterInfo, 'id' | 'source'>,
): Promise<Shipment> {
  for (let attempt = 1; ; attempt++) {
    await saver.flush();
    const { revision, versions } = saver;
    try {
      return await api.ship(id, { source, versions });
    } catch (error) {
      const isRefused = error instanceof ApiError && error.status === 409;
      // A save under way may be stored already, and answered soon.
      const isOurs = saver.revision !== revision || saver.state.kind !== 'saved';
      if (!isRefused || !isOurs || attempt === MOST_ATTEMPTS) throw error;
    }
  }
}
