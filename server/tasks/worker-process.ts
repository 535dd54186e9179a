import { constants, setPriority } from 'node:os';
import { TaskWorker } from './task-worker.ts';

// Whoever works in front of this machine comes first. Threads that begin later are as polite.
setPriority(constants.priority.PRIORITY_BELOW_NORMAL);

/** Told in a line: whoever started it starts another one soon. */
const giveUp = (why: string): never => {
  console.log(`worker: ${why}; it is started again`);
  process.exit(1);
};

const worker = await TaskWorker.start({
  databaseUrl: process.env.COBWEB_DATABASE_URL!,
  threads: Number(process.env.COBWEB_THREADS),
  say: (line) => console.log(line),
  onLost: () => giveUp('the database is gone'),
}).catch((error: Error) => giveUp(`it could not start (${error.message.split('\n')[0]})`));
const stop = async (): Promise<void> => {
  await worker.close();
  process.exit(0);
};
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, stop);
// Whoever started it is gone.
process.once('disconnect', stop);
process.send?.('ready');
