/**
 * What has to be done one after the other from the start of each task to the end of all: its own cost, and those of the longest chain of tasks that
 * wait for it.
 *
 * @param costs - Of each task. @param waits - Tasks that each waits for; they come before it.
 */
export function findLongestChains(
  costs: readonly number[],
  waits: readonly (readonly number[])[],
): Float64Array {
  const chains = Float64Array.from(costs);
  for (let task = costs.length - 1; task >= 0; task--)
    for (const before of waits[task]!)
      chains[before] = Math.max(chains[before]!, costs[before]! + chains[task]!);
  return chains;
}
