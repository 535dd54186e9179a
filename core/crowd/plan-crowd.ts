import type { CrowdCamera } from './crowd-camera.ts';
import { type CrowdMember, findSwitchCost, listDistances } from './crowd-member.ts';

/** Some of one character, evenly over the ground between two distances, m. */
export interface CrowdGroup {
  memberId: string;
  count: number;
  near: number;
  far: number;
}

/** What part of a frame a target has for cloth. */
export interface CrowdTarget {
  /** ms a frame, on each core. */
  budget: number;
  /** Cores that work on cloth at once; a character is one's work. */
  cores: number;
}

/** What a crowd costs. */
export interface CrowdPlan {
  /** ms a frame of the core that has most to do, and of all together. */
  cost: number;
  sum: number;
  /** The same while every character goes over from one band to the next at once. */
  worstCost: number;
  worstSum: number;
  count: number;
  isWithin: boolean;
  isWorstWithin: boolean;
  groups: PlannedGroup[];
}

export interface PlannedGroup {
  memberId: string;
  /** How many are at each band, in the order of bands. */
  counts: number[];
  /** ms a frame of all of them. */
  sum: number;
}

/** What a crowd costs on a target. Groups of characters that are not known are left out. */
export function planCrowd(
  members: readonly CrowdMember[],
  groups: readonly CrowdGroup[],
  camera: CrowdCamera,
  target: CrowdTarget,
): CrowdPlan {
  const [costs, worst]: [number[], number[]] = [[], []];
  const planned: PlannedGroup[] = [];
  for (const group of groups) {
    const member = members.find(({ id }) => id === group.memberId);
    if (!member) continue;
    const counts = spreadOverBands(member, group, camera);
    counts.forEach((count, b) => {
      for (let i = 0; i < count; i++) {
        costs.push(member.bands[b]!.cost);
        worst.push(findSwitchCost(member, b));
      }
    });
    const sum = counts.reduce((total, count, b) => total + count * member.bands[b]!.cost, 0);
    planned.push({ memberId: member.id, counts, sum });
  }
  const [cost, worstCost] = [shareAmong(costs, target.cores), shareAmong(worst, target.cores)];
  return {
    cost,
    worstCost,
    sum: addAll(costs),
    worstSum: addAll(worst),
    count: costs.length,
    isWithin: cost <= target.budget,
    isWorstWithin: worstCost <= target.budget,
    groups: planned,
  };
}

/** How many of a character fit a budget at a band; Infinity when they cost nothing. */
export function countFitting({ bands }: CrowdMember, band: number, { budget, cores }: CrowdTarget): number {
  const { cost } = bands[band]!;
  return cost > 0 ? cores * Math.floor(budget / cost + 1e-9) : Number.POSITIVE_INFINITY;
}

/** How many of a group are at each band: by the ground that is there, the largest remainders rounded up. */
export function spreadOverBands(
  member: CrowdMember,
  { count, near, far }: Pick<CrowdGroup, 'count' | 'near' | 'far'>,
  camera: CrowdCamera,
): number[] {
  const area = (from: number, to: number): number => Math.max(0, to * to - from * from);
  const whole = area(near, far);
  const distances = listDistances(member, camera);
  const shares = distances.map(({ near: from, far: to }) =>
    whole > 0
      ? area(Math.max(near, from), Math.min(far, to)) / whole
      : // All at one distance.
        Number(near > from && near <= to),
  );
  const exact = shares.map((share) => share * count);
  const counts = exact.map(Math.floor);
  const order = exact
    .map((value, b) => ({ b, rest: value - Math.floor(value) }))
    .sort((p, q) => q.rest - p.rest || p.b - q.b);
  const missing = count - addAll(counts);
  for (const { b } of order.slice(0, missing)) counts[b] = counts[b]! + 1;
  return counts;
}

/**
 * What the core has to do that has most, when each next dearest goes to the one with least: at most a third more than the best sharing.
 * Reference: R. L. Graham, *Bounds on multiprocessing timing anomalies*, SIAM J. Appl. Math. 1969.
 */
export function shareAmong(costs: readonly number[], cores: number): number {
  const loads = new Float64Array(Math.max(1, cores));
  for (const cost of Float64Array.from(costs).sort().reverse()) {
    let least = 0;
    for (let c = 1; c < loads.length; c++) if (loads[c]! < loads[least]!) least = c;
    loads[least] = loads[least]! + cost;
  }
  return loads.reduce((most, load) => Math.max(most, load), 0);
}

function addAll(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0);
}
