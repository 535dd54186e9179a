import { percentile } from '../../core/math/index.ts';
/** CPU time of this process since it started, µs: what the machine does besides does not count. */
export function readCpu(): number {
  const { user, system } = process.cpuUsage();
  return user + system;
}

export interface Spread {
  median: number;
  /** Where the middle half lies. */
  low: number;
  high: number;
}

export function summarise(values: readonly number[]): Spread {
  return { median: percentile(values, 0.5), low: percentile(values, 0.25), high: percentile(values, 0.75) };
}
