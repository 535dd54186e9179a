/** What a trial measures, frame by frame. */
export interface MeasureDefinition {
  /** Name in code and files. */
  key: string;
  label: string;
  /** What it is, in a sentence. */
  effect: string;
  /** As it is shown: unit, by how much the value is multiplied for it, and digits after the point. */
  unit: string;
  factor: number;
  digits: number;
  /** Of several garments the whole is the worst, or all together. */
  combine: 'max' | 'sum';
  /** Limit to begin with; null: none, it is told only. In the units of the values. */
  limit: number | null;
  /** Whether it is the machine's as much as the character's: it differs from one run to the next. */
  isOfMachine?: boolean;
}

/** In the order in which they are shown. Lengths in m, areas in m², strains as shares, times in ms. */
export const MEASURES = [
  {
    key: 'showThrough',
    label: 'show-through',
    effect: 'Area of skin, or of a garment beneath, that stands out of the cloth that covers it',
    unit: 'cm²',
    factor: 10_000,
    digits: 1,
    combine: 'sum',
    limit: 3e-4,
  },
  {
    key: 'penetration',
    label: 'penetration',
    effect: 'How deep the deepest vertex, edge or triangle of cloth lies in the skin',
    unit: 'mm',
    factor: 1000,
    digits: 1,
    combine: 'max',
    limit: 0.008,
  },
  {
    key: 'penetrationArea',
    label: 'area inside',
    effect: 'Area of cloth that lies in the skin',
    unit: 'cm²',
    factor: 10_000,
    digits: 1,
    combine: 'sum',
    limit: null,
  },
  {
    key: 'layers',
    label: 'layers',
    effect: 'How far a garment stands out of one that is worn over it',
    unit: 'mm',
    factor: 1000,
    digits: 1,
    combine: 'max',
    limit: 0.008,
  },
  {
    key: 'stretch',
    label: 'stretch',
    effect: 'The strain that 99 % of a garment’s edge length stays below',
    unit: '%',
    factor: 100,
    digits: 1,
    combine: 'max',
    limit: 0.12,
  },
  {
    key: 'worstEdge',
    label: 'worst edge',
    effect: 'Strain of the most stretched edge',
    unit: '%',
    factor: 100,
    digits: 1,
    combine: 'max',
    limit: null,
  },
  {
    key: 'jitter',
    label: 'jitter',
    effect: 'How far vertices shake from frame to frame, beyond what the skinned garment does',
    unit: 'mm',
    factor: 1000,
    digits: 2,
    combine: 'max',
    limit: 0.001,
  },
  {
    key: 'scatter',
    label: 'scatter',
    effect: 'How far the simulated vertices are from where they were one round of the clip before',
    unit: 'mm',
    factor: 1000,
    digits: 1,
    combine: 'max',
    limit: null,
  },
  {
    key: 'contacts',
    label: 'contacts',
    effect: 'Vertices that lie on collision bodies',
    unit: '',
    factor: 1,
    digits: 0,
    combine: 'sum',
    limit: null,
  },
  {
    key: 'cost',
    label: 'cost',
    effect: 'What a simulated frame took here',
    unit: 'ms',
    factor: 1,
    digits: 2,
    combine: 'sum',
    limit: null,
    isOfMachine: true,
  },
] as const satisfies readonly MeasureDefinition[];

export type MeasureKey = (typeof MEASURES)[number]['key'];

export const MEASURE_KEYS: readonly MeasureKey[] = MEASURES.map(({ key }) => key);

export function getMeasure(key: MeasureKey): MeasureDefinition {
  return MEASURES.find((measure) => measure.key === key)!;
}
