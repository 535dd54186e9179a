import type { ErrorBody } from '../../state/api.ts';

/** What was wrong with a file: which, where, what was found, and what to do. */
export function FailureNote({ error }: { error: ErrorBody }) {
  return (
    <div role="alert" className="mb-4 w-full rounded-md border border-brick bg-surface p-2.5 text-left">
      <p className="font-semibold text-brick">{error.file ? `${error.file} was not taken` : 'Not taken'}</p>
      {error.where && <p className="num mt-0.5 break-words text-xs">{error.where}</p>}
      <p className="mt-0.5 break-words">{error.found ?? error.message}</p>
      {error.remedy && <p className="mt-0.5 text-soft">{error.remedy}</p>}
    </div>
  );
}
