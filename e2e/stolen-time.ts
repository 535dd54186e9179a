import { readFileSync } from 'node:fs';

/** Processor time of this machine since it started, in ticks: all of it, and what the host gave to other machines. */
interface ProcessorTime {
  all: number;
  stolen: number;
}

/** Nothing is stolen where the system does not say so. */
function readProcessorTime(): ProcessorTime {
  try {
    const [line] = readFileSync('/proc/stat', 'utf8').split('\n');
    const ticks = line!.trim().split(/\s+/).slice(1, 9).map(Number);
    return { all: ticks.reduce((sum, each) => sum + each, 0), stolen: ticks[7]! };
  } catch {
    return { all: 0, stolen: 0 };
  }
}

/** Share of this machine's processors that its host withholds while something runs: no program can use that. */
export async function measureStolen<T>(act: () => Promise<T>): Promise<{ result: T; stolen: number }> {
  const before = readProcessorTime();
  const result = await act();
  const after = readProcessorTime();
  return { result, stolen: (after.stolen - before.stolen) / Math.max(1, after.all - before.all) };
}
