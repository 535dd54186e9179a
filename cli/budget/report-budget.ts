import { type Advice, tellChange } from '../../core/advice/index.ts';
import { type Price, priceWork, toPricing } from '../../core/cost/index.ts';
import type { CrowdCamera } from '../../core/crowd/index.ts';
import { type AuthoredDocument, listGarments } from '../../core/document/index.ts';
import { percentile } from '../../core/math/index.ts';
import { type RunTimes, sumWork } from '../../core/run/index.ts';
import { type CaseRows, sumCaseWork } from '../../core/trials/index.ts';
import type { Subject } from '../with-subject.ts';
import { type MeasuredLevels, type PrintedSize, printSizes, tellGarmentLevels } from './measure-levels.ts';

/** What an asset costs on a target, in whole microseconds a frame, as it is printed as JSON. */
export interface BudgetReport {
  profile: string;
  budgetMicroseconds: number;
  costMicroseconds: { mean: number; p95: number; worst: number; parts: Record<keyof RunTimes, number> };
  clips: { name: string; mean: number; p95: number; worst: number }[];
  /** With what each of its levels costs, when they were asked for. */
  garments: {
    name: string;
    costMicroseconds: number;
    levels?: { pixels: number; costMicroseconds: number }[];
  }[];
  /** Sizes on the screen with their levels, when they were asked for. */
  crowd?: { areProposed: boolean; camera: CrowdCamera; sizes: PrintedSize[] };
  advice: ToldChange[];
  /** The combination that gets under the budget, or nearest to it, without breaking a limit; null without one. */
  best: (Omit<ToldChange, 'change'> & { changes: string[]; costMicroseconds: number }) | null;
}

interface ToldChange {
  change: string;
  savesMicroseconds: number;
  /** More or less than without it, on the mean of all frames. */
  showThroughSquareCentimetres: number;
  /** More or less than without it, in the worst frame. */
  penetrationMillimetres: number;
  breaks: string[];
}

/** What an asset costs, from what its clips measured. @param rows - Priced for the target. @param budget - ms. */
export function reportBudget(
  { document, target }: Pick<Subject, 'document' | 'target'>,
  rows: readonly CaseRows[],
  budget: number,
  advice: Advice | null,
): BudgetReport {
  const work = sumWork(rows.flatMap((row) => sumCaseWork(row) ?? []));
  const price = work ? priceWork(work, toPricing(target)) : null;
  const frames = rows.flatMap(({ whole }) => [...whole.cost]);
  return {
    profile: target.name,
    budgetMicroseconds: toMicroseconds(budget),
    costMicroseconds: { ...summarise(frames), parts: tellParts(price) },
    clips: rows.map(({ name, whole }) => ({ name, ...summarise([...whole.cost]) })),
    garments: listGarments(document).map(({ id, name }) => ({
      name,
      costMicroseconds: toMicroseconds(price?.garments.find(({ garmentId }) => garmentId === id)?.total ?? 0),
    })),
    ...tellAdvice(document, advice),
  };
}

/** A report with what levels of detail cost. @param budget - ms. */
export function withLevels(
  report: BudgetReport,
  subject: Pick<Subject, 'character' | 'document' | 'target'>,
  measured: MeasuredLevels,
  camera: CrowdCamera,
  budget: number,
): BudgetReport {
  return {
    ...report,
    garments: listGarments(subject.document).map(({ id }, g) => ({
      ...report.garments[g]!,
      levels: tellGarmentLevels(measured, id),
    })),
    crowd: {
      areProposed: measured.areProposed,
      camera,
      sizes: printSizes(measured, subject, camera, budget),
    },
  };
}

function summarise(costs: readonly number[]): { mean: number; p95: number; worst: number } {
  const mean = costs.reduce((sum, cost) => sum + cost, 0) / (costs.length || 1);
  return {
    mean: toMicroseconds(mean),
    p95: toMicroseconds(percentile(costs, 0.95)),
    worst: toMicroseconds(costs.reduce((most, cost) => Math.max(most, cost), 0)),
  };
}

function tellParts(price: Price | null): BudgetReport['costMicroseconds']['parts'] {
  const parts = Object.entries(price?.parts ?? {});
  return Object.fromEntries(parts.map(([part, cost]) => [part, toMicroseconds(cost)])) as Record<
    keyof RunTimes,
    number
  >;
}

function tellAdvice(
  document: AuthoredDocument,
  advice: Advice | null,
): Pick<BudgetReport, 'advice' | 'best'> {
  const before = advice?.before;
  if (!advice || !before) return { advice: [], best: null };
  const tell = ({ saves, figures, breaks }: Advice['singles'][number]): Omit<ToldChange, 'change'> => ({
    savesMicroseconds: toMicroseconds(saves),
    showThroughSquareCentimetres: round(1e4 * (figures.showThrough - before.showThrough), 2),
    penetrationMillimetres: round(
      1000 * ((figures.worst.penetration ?? 0) - (before.worst.penetration ?? 0)),
      2,
    ),
    breaks,
  });
  const { best } = advice;
  return {
    advice: advice.singles.map((entry) => ({
      change: tellChange(document, entry.changes[0]!),
      ...tell(entry),
    })),
    best: best && {
      changes: best.changes.map((change) => tellChange(document, change)),
      costMicroseconds: toMicroseconds(best.figures.cost),
      ...tell(best),
    },
  };
}

function toMicroseconds(milliseconds: number): number {
  return Math.round(1000 * milliseconds);
}

function round(value: number, digits: number): number {
  // Without a sign in front of nothing.
  return Number(value.toFixed(digits)) + 0;
}
