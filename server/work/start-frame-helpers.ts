import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { FrameHelpers } from '../../core/cloth/index.ts';
import { findProjectRoot } from '../project-root.ts';

/** Threads that compute cloth beside the one that calls. */
export interface ThreadedHelpers {
  helpers: FrameHelpers;
  /** Ends them. */
  close: () => Promise<void>;
}

/** @param most - Threads besides this one. */
export function createFrameHelpers(most: number): ThreadedHelpers {
  const root = findProjectRoot();
  const toUrl = (...path: string[]): string => JSON.stringify(pathToFileURL(join(root, ...path)).href);
  // A thread loads TypeScript once it has been told how.
  const entry = `import(${toUrl('node_modules', 'tsx', 'dist', 'esm', 'api', 'index.mjs')})
    .then(({ register }) => register())
    .then(() => import(${toUrl('server', 'work', 'frame-thread.ts')}))`;
  const threads: Worker[] = [];
  const helpers = new FrameHelpers(most, () => {
    const thread = new Worker(entry, { eval: true });
    // Nobody waits for it: the one that it computes for is told by what it shares.
    thread.unref();
    threads.push(thread);
    return (message) => thread.postMessage(message);
  });
  return {
    helpers,
    close: async () => {
      await Promise.all(threads.map((thread) => thread.terminate()));
    },
  };
}
