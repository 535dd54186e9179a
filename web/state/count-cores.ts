/** Workers that can go side by side; one where nothing tells. */
export function countCores(): number {
  return Math.max(1, globalThis.navigator?.hardwareConcurrency || 1);
}
