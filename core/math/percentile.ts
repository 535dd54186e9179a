/**
 * The value below which a share of the values lies: the next larger one of them, without interpolation. Values that are no
 * numbers are left out. 0 for none. Ours.
 * @param share - 0 to 1; 0.5 is the median.
 */
export function percentile(values: Iterable<number>, share: number): number {
  const sorted = Float64Array.from(values)
    .filter((value) => !Number.isNaN(value))
    .sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}
