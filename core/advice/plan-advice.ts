import type { RecordId } from '../document/index.ts';
import type { ResolvedLimits } from '../trials/index.ts';
import { type BudgetChange, tellPlaceOf } from './budget-change.ts';
import { type AssetFigures, type JudgedChange, judgeChange, rankChanges } from './judge-change.ts';

/** One that was tried: no change, a change, or several together. */
export interface TriedChanges {
  changes: readonly BudgetChange[];
  /** Null when it could not be done. */
  figures: AssetFigures | null;
}

/** One that was tried, against the asset as it is. */
export interface AdviceEntry extends JudgedChange {
  changes: readonly BudgetChange[];
  figures: AssetFigures;
}

/** All that was found. */
export interface Advice {
  /** Without any change; null before it was measured. */
  before: AssetFigures | null;
  /** Changes by themselves, the best first. */
  singles: AdviceEntry[];
  /** The best combination that breaks no limit: of those under the budget the least harmful, else the cheapest; null without one. */
  best: AdviceEntry | null;
}

/** Combinations are tried so often at most. */
const MOST_COMBINATIONS = 8;

/** What is known of some that were tried, the first of them without changes. @param budget - ms. @param limits - Of each garment. */
export function readAdvice(
  tried: readonly TriedChanges[],
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
  budget: number,
): Advice {
  const before = tried.find(({ changes }) => changes.length === 0)?.figures ?? null;
  if (!before) return { before: null, singles: [], best: null };
  const entries = tried.flatMap(({ changes, figures }): AdviceEntry[] =>
    changes.length > 0 && figures ? [{ changes, figures, ...judgeChange(before, figures, limits) }] : [],
  );
  const singles = rankChanges(entries.filter(({ changes }) => changes.length === 1));
  const sound = entries.filter(({ breaks, saves }) => breaks.length === 0 && saves > 0);
  const isUnder = ({ figures }: AdviceEntry): boolean => figures.cost <= budget;
  const best = sound.sort(
    (p, q) =>
      Number(isUnder(q)) - Number(isUnder(p)) ||
      (isUnder(p)
        ? p.harm - q.harm || p.changes.length - q.changes.length || p.figures.cost - q.figures.cost
        : p.figures.cost - q.figures.cost),
  )[0];
  return { before, singles, best: best ?? null };
}

/**
 * The combination that is to be tried next, from all that was tried: null when one is under the budget without breaking a limit, or
 * nothing more is worth a try. The same of the same. Ours: the best changes one after the other until their savings reach the budget; where
 * that breaks a limit, without the one that harms most; where it does not reach, with the next one.
 */
export function planCombination(
  tried: readonly TriedChanges[],
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
  budget: number,
): BudgetChange[] | null {
  const { before, singles } = readAdvice(tried, limits, budget);
  if (!before || before.cost <= budget) return null;
  const candidates = singles.filter(({ breaks }) => breaks.length === 0);
  const combinations = tried.filter(({ changes }) => changes.length > 1);
  if (combinations.length >= MOST_COMBINATIONS) return null;
  /** Left out because a combination with them broke a limit. */
  const barred = new Set<BudgetChange>();
  /** Savings of several together are less than their sum: more is aimed at when it did not reach. */
  let aim = before.cost - budget;
  /** First what is best for what it harms, then, of each place, what saves most. */
  let order = candidates;
  for (;;) {
    const chosen = choose(order, barred, aim);
    if (chosen.length < 2) return null;
    const known = combinations.find(({ changes }) => isSame(changes, chosen));
    if (!known) return chosen.map(({ changes }) => changes[0]!);
    const judged = known.figures && judgeChange(before, known.figures, limits);
    if (!judged || judged.breaks.length > 0)
      barred.add(chosen.reduce((p, q) => (q.harm > p.harm ? q : p)).changes[0]!);
    else if (known.figures!.cost <= budget) return null;
    else {
      const sum = chosen.reduce((all, { saves }) => all + saves, 0);
      const isAll = chosen.length === choose(order, barred, Number.POSITIVE_INFINITY).length;
      if (isAll && order !== candidates) return null;
      if (isAll) order = candidates.toSorted((p, q) => q.saves - p.saves);
      aim = isAll ? before.cost - budget : sum + (known.figures!.cost - budget) + 1e-9;
    }
  }
}

/** The best ones of places that do not meet, until together they save enough. */
function choose(
  candidates: readonly AdviceEntry[],
  barred: ReadonlySet<BudgetChange>,
  aim: number,
): AdviceEntry[] {
  const chosen: AdviceEntry[] = [];
  const places = new Set<string>();
  let saved = 0;
  for (const entry of candidates) {
    const change = entry.changes[0]!;
    if (saved >= aim || barred.has(change) || places.has(tellPlaceOf(change))) continue;
    places.add(tellPlaceOf(change));
    chosen.push(entry);
    saved += entry.saves;
  }
  return chosen;
}

function isSame(changes: readonly BudgetChange[], chosen: readonly AdviceEntry[]): boolean {
  const tell = (all: readonly BudgetChange[]): string => JSON.stringify(all);
  return tell(changes) === tell(chosen.map((entry) => entry.changes[0]!));
}
