import type { Seen } from '../wire/characters.ts';
import { ApiError, type CharacterInfo } from './api.ts';
import type { Saver } from './saver.ts';

/** Whoever goes on working while something is asked for may change what is stored so many times. */
const MOST_ATTEMPTS = 4;

/**
 * Asks for something of what is on the screen: all of it is saved first, and the server refuses when it holds anything that this page
 * has not seen. When that is a save of this very page, which came in between, it asks again.
 * @throws {UnsavedError | ApiError} Whose message says why nothing was done.
 */
export async function sendSeen<T>(
  saver: Saver,
  { source }: Pick<CharacterInfo, 'source'>,
  send: (seen: Seen) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    await saver.flush();
    const { revision, versions } = saver;
    try {
      return await send({ source, versions });
    } catch (error) {
      const isRefused = error instanceof ApiError && error.status === 409;
      // A save under way may be stored already, and answered soon.
      const isOurs = saver.revision !== revision || saver.state.kind !== 'saved';
      if (!isRefused || !isOurs || attempt === MOST_ATTEMPTS) throw error;
    }
  }
}
