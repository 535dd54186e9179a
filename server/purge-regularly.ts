import { createOrm } from './database/orm.ts';
import { describePurge, PurgeService } from './services/purge-service.ts';

const EVERY_MS = 60_000;

/** Deletes what nothing refers to any more, once a minute, and tells what that freed. @returns Ends it. */
export function purgeRegularly(databaseUrl: string, say: (line: string) => void): () => Promise<void> {
  const opening = createOrm(databaseUrl);
  let running: Promise<void> = Promise.resolve();
  const purge = async (): Promise<void> => {
    try {
      const told = describePurge(await new PurgeService((await opening).em.fork()).purge());
      if (told) say(`database: ${told}`);
    } catch (error) {
      // The next time is soon; the database may just be starting again.
      say(`database: could not be tidied up (${(error as Error).message.split('\n')[0]})`);
    }
  };
  const timer = setInterval(() => {
    running = running.then(purge);
  }, EVERY_MS);
  return async () => {
    clearInterval(timer);
    await running;
    await (await opening).close();
  };
}
