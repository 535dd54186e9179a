import { format } from 'node:util';
import { runCommand } from './commands.ts';

export interface CommandResult {
  status: number;
  stdout: string;
  stderr: string;
}

/**
 * Runs a command within the process of the tests, as its own would: starting one for each takes longer than what they do.
 *
 * @param folder - That paths are told from. @param environment - Beside the one that is there.
 */
export async function runHere(
  folder: string,
  [name = '', ...args]: readonly string[],
  environment: Record<string, string> = {},
): Promise<CommandResult> {
  const before = { folder: process.cwd(), log: console.log, error: console.error, env: { ...process.env } };
  const [out, faults]: [string[], string[]] = [[], []];
  console.log = (...words: unknown[]) => void out.push(`${format(...words)}\n`);
  console.error = (...words: unknown[]) => void faults.push(`${format(...words)}\n`);
  Object.assign(process.env, environment);
  process.chdir(folder);
  try {
    const status = await runCommand(name, args);
    return { status, stdout: out.join(''), stderr: faults.join('') };
  } finally {
    process.chdir(before.folder);
    for (const key of Object.keys(environment)) {
      if (before.env[key] === undefined) delete process.env[key];
      else process.env[key] = before.env[key];
    }
    console.log = before.log;
    console.error = before.error;
  }
}
