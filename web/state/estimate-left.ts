/** A smaller share tells nothing of the whole. */
const LEAST_SHARE = 0.1;

/** Seconds until something is done that goes on as it did; null before that can be told. @param startedAt - As of `performance.now`, ms. */
export function estimateLeft(startedAt: number, share: number): number | null {
  if (share <= LEAST_SHARE) return null;
  return ((performance.now() - startedAt) / 1000) * (1 / share - 1);
}
