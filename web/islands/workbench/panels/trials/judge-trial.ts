import { type AuthoredDocument, listGarments, type MeasureKey } from '../../../../../core/document/index.ts';
import {
  type CaseRows,
  findWorstFrame,
  getMeasure,
  judgeRows,
  type MeasureDefinition,
  resolveAllLimits,
  summariseRow,
} from '../../../../../core/trials/index.ts';

/** One measure of one case. */
export interface TrialCell {
  key: MeasureKey;
  /** Of all garments, in the measure's own unit; null where nothing is known. */
  worst: number | null;
  mean: number | null;
  /** The one of the two that is told: of the cost the mean. */
  told: number | null;
  /** A garment is over its limit. */
  isOver: boolean;
  /** How much more than in the earlier trial; null without one, or where one of the two is not known. */
  change: number | null;
  /** Where it is worst: seconds, garment, and a place in world space where there is one. */
  time: number;
  garmentName: string | null;
  position: readonly [number, number, number] | null;
}

export interface TrialLine {
  /** Index of the case. */
  index: number;
  name: string;
  passes: boolean;
  cells: readonly TrialCell[];
}

const SHOWN: readonly MeasureKey[] = [
  'showThrough',
  'penetration',
  'layers',
  'stretch',
  'jitter',
  'contacts',
  'cost',
];

/** The measures of the grid; a single garment has no layers. */
export function listShownMeasures(garmentCount: number): MeasureDefinition[] {
  return SHOWN.filter((key) => key !== 'layers' || garmentCount > 1).map(getMeasure);
}

/**
 * The grid of a trial, judged by the limits of now.
 * @param earlier - Cases of a trial beside it, found by name.
 */
export function judgeTrial(
  rows: readonly CaseRows[],
  document: AuthoredDocument,
  earlier: readonly CaseRows[] | null,
): TrialLine[] {
  const limits = resolveAllLimits(document);
  const measures = listShownMeasures(listGarments(document).length);
  const before = new Map(earlier?.map((each) => [each.name, each]));
  return rows.map((each, index) => {
    const over = new Set(judgeRows(each, limits).map(({ measure }) => measure));
    return {
      index,
      name: each.name,
      passes: over.size === 0,
      cells: measures.map(({ key }) => toCell(each, key, over.has(key), before.get(each.name))),
    };
  });
}

function toCell(
  { times, whole, garments }: CaseRows,
  key: MeasureKey,
  isOver: boolean,
  before: CaseRows | undefined,
): TrialCell {
  const { isPriced = false } = getMeasure(key);
  const found = summariseRow(whole[key]);
  const was = before ? summariseRow(before.whole[key]) : null;
  const tellOf = (summary: NonNullable<typeof found>): number => (isPriced ? summary.mean : summary.worst);
  const worstOf = (rows: CaseRows['whole']): number => rows[key][findWorstFrame(rows[key])] ?? 0;
  const garment = [...garments].sort((p, q) => worstOf(q.rows) - worstOf(p.rows))[0];
  const place = garment?.places[key];
  // The place is known of the garment's own worst frame.
  const frame = place ? findWorstFrame(garment.rows[key]) : (found?.frame ?? 0);
  return {
    key,
    worst: found?.worst ?? null,
    mean: found?.mean ?? null,
    told: found && tellOf(found),
    isOver,
    change: found && was ? tellOf(found) - tellOf(was) : null,
    time: times[frame] ?? 0,
    garmentName: garment?.garmentName ?? null,
    position: place?.position ?? null,
  };
}

/** A change that is told: more than half of the last digit that is shown. */
export function isTold(change: number | null, { factor, digits }: MeasureDefinition): change is number {
  return change !== null && Math.abs(factor * change) >= 0.5 * 10 ** -digits;
}

/** How many cells are better and how many worse than in the earlier trial, of measures that the character answers for. */
export function countChanges(lines: readonly TrialLine[]): { better: number; worse: number } {
  let [better, worse] = [0, 0];
  for (const { cells } of lines)
    for (const { key, change } of cells) {
      const measure = getMeasure(key);
      if (key === 'contacts' || !isTold(change, measure)) continue;
      if (change < 0) better++;
      else worse++;
    }
  return { better, worse };
}
