import { WORK, type WorkUnit } from '../../run/index.ts';

/** Unit costs that are fitted to timings of another machine by one factor together. */
export interface CostGroup {
  key: string;
  label: string;
  units: readonly WorkUnit[];
}

const LABELS: Readonly<Record<string, string>> = {
  stretch: 'Stretch',
  bend: 'Bend',
  reach: 'Vertices, max distance and wind',
  bodies: 'Collision bodies',
  self: 'Self-collision',
  layers: 'Layers and body meshes',
  skinning: 'Skinning and binding',
};

/** Wind takes too little of any garment to be told apart from the rest that is done of each vertex. */
const TOGETHER: Readonly<Record<string, string>> = { air: 'reach' };

/** Every unit is in one group. What two parts share goes with the first. */
export const COST_GROUPS: readonly CostGroup[] = groupUnits();

function groupUnits(): CostGroup[] {
  const groups = new Map<string, WorkUnit[]>(Object.keys(LABELS).map((key) => [key, []]));
  const placed = new Set<WorkUnit>();
  // Layers and body meshes are one kind of work, whatever it is booked on.
  const byLayersFirst = [...WORK].sort((p, q) => Number(q.part === 'layers') - Number(p.part === 'layers'));
  for (const { unit, part } of byLayersFirst) {
    if (placed.has(unit)) continue;
    placed.add(unit);
    groups.get(TOGETHER[part] ?? part)!.push(unit);
  }
  return [...groups].map(([key, units]) => ({ key, label: LABELS[key]!, units }));
}
