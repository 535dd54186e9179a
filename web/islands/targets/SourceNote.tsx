import { type CostProfile, findWorstError } from '../../../core/cost/index.ts';

/** Where unit costs come from, and how good they are. */
export function SourceNote({ costs }: { costs: CostProfile }) {
  const worst = findWorstError(costs);
  const percent = Math.ceil(100 * (worst ?? 0));
  const assumed = (costs.groups ?? []).filter(({ isAssumed }) => isAssumed).length;
  if (costs.source === 'timings')
    return (
      <>
        From timings of {costs.timed?.length ?? 0} garments, {tellDate(costs.measuredAt)}: within{' '}
        <span className="num">{percent}</span> % of each.
        {assumed > 0 && (
          <span className="text-marigold-ink">
            {' '}
            {assumed} of {costs.groups!.length} kinds of work assumed.
          </span>
        )}
      </>
    );
  if (costs.source === 'machine')
    return (
      <>
        Measured here{costs.machine && ` (${costs.machine}, ${tellDate(costs.measuredAt)})`}
        {costs.fit && (
          <>
            : within <span className="num">{percent}</span> % of what was measured on {costs.fit.tried.length}{' '}
            garments that it was not fitted to.
          </>
        )}
      </>
    );
  return <>As on the reference machine, until this one is measured.</>;
}

function tellDate(date: string | null): string {
  return date ? new Date(date).toLocaleDateString('en', { dateStyle: 'medium' }) : 'some time ago';
}
