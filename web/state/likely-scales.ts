/** What one unit of a file may have been, m. */
const UNITS = [
  { unit: 'centimetres', factor: 0.01 },
  { unit: 'inches', factor: 0.0254 },
  { unit: 'feet', factor: 0.3048 },
  { unit: 'millimetres', factor: 0.001 },
] as const;

/** Heights that a character seldom has less or more of, m. */
const USUAL = { least: 0.25, most: 6 };
/** Of one that is most likely meant. */
const MEANT = { least: 1.2, most: 2.4 };

export interface LikelyScale {
  unit: string;
  factor: number;
}

/** What a file was most likely counted in, when its character is as tall as hardly any; also when metres were read as one of those. */
export function listLikelyScales(height: number): LikelyScale[] {
  if (height >= USUAL.least && height <= USUAL.most) return [];
  const all = [
    ...UNITS,
    ...UNITS.map(({ unit, factor }) => ({ unit: `metres, and read as ${unit}`, factor: 1 / factor })),
  ];
  return all.filter(({ factor }) => height * factor >= MEANT.least && height * factor <= MEANT.most);
}
