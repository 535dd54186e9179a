import { type ChildProcess, spawn } from 'node:child_process';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { findProjectRoot } from '../project-root.ts';

/** One that ended is started again after so long. */
const AGAIN_MS = 2000;
/** One that does not end when it is told to is ended. */
const STOP_MS = 5000;

export interface WorkerProcess {
  /** That of the system, of the one that runs now. */
  readonly pid: number | undefined;
  stop(): Promise<void>;
}

/** Starts a worker as a process of its own, and another one whenever it ends by itself. */
export function startWorkerProcess(
  databaseUrl: string,
  threads: number,
  say: (line: string) => void,
): WorkerProcess {
  let isStopped = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let child: ChildProcess;
  const start = (): void => {
    const root = findProjectRoot();
    child = spawn(
      process.execPath,
      [
        '--import',
        pathToFileURL(join(root, 'node_modules', 'tsx', 'dist', 'loader.mjs')).href,
        join(root, 'server', 'tasks', 'worker-process.ts'),
      ],
      {
        cwd: root,
        stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
        // Not on the command line, where everybody on this machine could read a password.
        env: { ...process.env, COBWEB_DATABASE_URL: databaseUrl, COBWEB_THREADS: String(threads) },
      },
    );
    for (const stream of [child.stdout, child.stderr])
      stream?.on('data', (chunk: Buffer) => {
        for (const line of chunk.toString().split('\n')) if (line.trim()) say(line);
      });
    child.on('exit', () => {
      if (!isStopped) timer = setTimeout(start, AGAIN_MS);
    });
  };
  start();
  return {
    get pid() {
      return child.pid;
    },
    async stop() {
      isStopped = true;
      clearTimeout(timer);
      if (child.exitCode !== null || child.signalCode !== null) return;
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      const last = setTimeout(() => child.kill('SIGKILL'), STOP_MS);
      await ended;
      clearTimeout(last);
    },
  };
}
