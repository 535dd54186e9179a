import type { RecordId } from '../../core/document/index.ts';
import {
  type Breach,
  type CaseRows,
  getMeasure,
  judgeRows,
  MEASURES,
  type MeasureDefinition,
  type ResolvedLimits,
  summariseRow,
} from '../../core/trials/index.ts';

/** Values by their names in files, in their units; null where nothing is known. */
export type ReportValues = Record<string, number | null>;

export interface BrokenLimit {
  /** Name in files, which says the unit of the numbers. */
  measure: string;
  limit: number;
  value: number;
  /** Seconds into the clip. */
  time: number;
  garment: string;
}

export interface ClipReport {
  name: string;
  frames: number;
  passes: boolean;
  worst: ReportValues;
  mean: ReportValues;
  broken: BrokenLimit[];
}

/** What `./cobweb trial --json` prints. */
export interface TrialReport {
  passes: boolean;
  clips: ClipReport[];
}

/** @param limits - Of each garment. */
export function reportTrial(
  cases: readonly CaseRows[],
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
): TrialReport {
  const clips = cases.map((each): ClipReport => {
    const broken = judgeRows(each, limits).map(toBroken);
    const [worst, mean]: [ReportValues, ReportValues] = [{}, {}];
    for (const measure of MEASURES) {
      const found = summariseRow(each.whole[measure.key]);
      worst[measure.fileKey] = found && toFile(measure, found.worst);
      mean[measure.fileKey] = found && toFile(measure, found.mean);
    }
    return { name: each.name, frames: each.times.length, passes: broken.length === 0, worst, mean, broken };
  });
  return { passes: clips.every(({ passes }) => passes), clips };
}

function toBroken({ measure, limit, value, time, garmentName }: Breach): BrokenLimit {
  const definition = getMeasure(measure);
  return {
    measure: definition.fileKey,
    limit: toFile(definition, limit),
    value: toFile(definition, value),
    time: round(time, 4),
    garment: garmentName,
  };
}

/** In the unit of files, to six digits after the point. */
function toFile({ factor, fileFactor }: MeasureDefinition, value: number): number {
  return round((fileFactor ?? factor) * value, 6);
}

function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}
