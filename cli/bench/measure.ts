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
  const sorted = [...values].sort((p, q) => p - q);
  const at = (share: number): number =>
    sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!;
  return { median: at(0.5), low: at(0.25), high: at(0.75) };
}
