import type { MeasureKey } from '../document/index.ts';

/** What a trial measures, frame by frame. */
export interface MeasureDefinition {
  key: MeasureKey;
  /** In files: with its unit. */
  fileKey: string;
  label: string;
  /** What it is, in a sentence. */
  effect: string;
  /** As it is shown: unit, by how much the value is multiplied for it, and digits after the point. */
  unit: string;
  factor: number;
  /** The same for files, where it differs. */
  fileFactor?: number;
  digits: number;
  /** Of several garments the whole is the worst, or all together. */
  combine: 'max' | 'sum';
  /** Limit to begin with; null: none, it is told only. In the units of the values. */
  limit: number | null;
  /** Whether it is told by the work that was done and what that costs on a machine. */
  isPriced?: boolean;
}

/** In the order in which they are shown. Lengths in m, areas in m², strains as shares, times in ms. */
export const MEASURES = [
  {
    key: 'showThrough',
    fileKey: 'showThroughSquareCentimetres',
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
    fileKey: 'penetrationMillimetres',
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
    fileKey: 'penetrationAreaSquareCentimetres',
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
    fileKey: 'layerMillimetres',
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
    fileKey: 'stretchPercent',
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
    fileKey: 'largestStretchPercent',
    label: 'largest stretch',
    effect: 'Strain of the most stretched edge',
    unit: '%',
    factor: 100,
    digits: 1,
    combine: 'max',
    limit: null,
  },
  {
    key: 'jitter',
    fileKey: 'jitterMillimetres',
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
    fileKey: 'scatterMillimetres',
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
    fileKey: 'contacts',
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
    fileKey: 'costMicroseconds',
    label: 'cost',
    effect: 'What a frame costs: its counted work, at what each piece of it costs on the target',
    unit: 'ms',
    factor: 1,
    fileFactor: 1000,
    digits: 2,
    combine: 'sum',
    limit: null,
    isPriced: true,
  },
] as const satisfies readonly MeasureDefinition[];

export const MEASURE_KEYS: readonly MeasureKey[] = MEASURES.map(({ key }) => key);

/** The measure of a key. */
export function getMeasure(key: MeasureKey): MeasureDefinition {
  return MEASURES.find((measure) => measure.key === key)!;
}
