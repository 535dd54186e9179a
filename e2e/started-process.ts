import { type ChildProcess, spawn } from 'node:child_process';
import { join } from 'node:path';
import { findFreePort } from '../server/database/cluster.ts';
import { findProjectRoot } from '../server/project-root.ts';

export interface StartedProcess {
  child: ChildProcess;
  address: string;
  /** All that it has printed, errors too. */
  readPrinted(): string;
}

/**
 * Runs `./cobweb start` as a person does, in a process of its own, and waits for its address.
 * @param environment - On top of ours; `undefined` takes a variable away.
 * @throws {Error} With all that it printed, when it ends instead.
 */
export async function startProcess(
  environment: Readonly<Record<string, string | undefined>>,
  folder = process.cwd(),
): Promise<StartedProcess> {
  const port = await findFreePort();
  const child = spawn(join(findProjectRoot(), 'cobweb'), ['start', '--port', String(port)], {
    cwd: folder,
    // What is measured at the first start would keep its only worker thread busy.
    env: { ...process.env, COBWEB_CALIBRATE: 'off', ...environment },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let printed = '';
  await new Promise<void>((resolve, reject) => {
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => {
        printed += chunk.toString();
        if (printed.includes('Ctrl-C stops it')) resolve();
      });
    child.once('exit', () => reject(new Error(`The application ended while starting:\n${printed}`)));
  });
  return { child, address: `http://127.0.0.1:${port}`, readPrinted: () => printed };
}
