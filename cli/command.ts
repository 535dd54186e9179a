/** One command of the executable. */
export interface Command {
  summary: string;
  /** Printed by --help. */
  usage: string;
  /** @returns The exit code. */
  run(args: string[]): Promise<number>;
}
