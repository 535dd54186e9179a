import { useState } from 'react';
import { listGarments } from '../../../../../core/document/index.ts';
import { describeVariable, readVariable } from '../../../../../core/search/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import type { Candidate, SearchState } from '../../../../wire/trials.ts';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { SearchCloud } from './SearchCloud.tsx';

/** What a search has found: all candidates as a cloud, and one of them in numbers, to look at and to take over. */
export function FoundSettings({ found }: { found: SearchState }) {
  const { search } = useWorkbench();
  const editor = useDocument();
  const looked = useStore(search.store, (state) => state.looked);
  const [picked, setPicked] = useState<number | null>(null);
  const { results } = found;
  const best = results.reduce((p, { score }, k) => (score < results[p]!.score ? k : p), 0);
  const index = picked ?? best;
  const candidate = results[index] ?? results[best]!;
  const garment = listGarments(editor.document).find(({ id }) => id === found.request.garmentId);
  const look = (of: number | null): void => search.look(of);
  const pick = (of: number): void => {
    setPicked(of);
    look(of);
  };
  const take = (): void => {
    search.take(index);
    toastUndo(editor, 'The settings of the search are taken over');
  };
  return (
    <div className="mt-2 border-t border-line pt-1.5" data-candidates={results.length}>
      <SearchCloud results={results} picked={index} onPick={pick} />
      <table className="mt-1 w-full border-collapse text-xs" aria-label="Settings of the candidate">
        <thead className="text-soft">
          <tr>
            <th className="text-left font-medium">
              {index === best ? 'The best' : `Candidate ${index + 1}`}
            </th>
            <th className="text-right font-medium">now</th>
            <th className="text-right font-medium">then</th>
          </tr>
        </thead>
        <tbody>
          {search.readValues(candidate).map(({ key, value }) => {
            const { label, unit, factor, digits } = describeVariable(key);
            const write = (stored: number): string => `${(stored * factor).toFixed(digits)} ${unit}`;
            return (
              <tr key={key}>
                <td>{label}</td>
                <td className="num text-right text-soft">
                  {garment && write(readVariable(editor.document, garment, key))}
                </td>
                <td className="num text-right">{write(value)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Measured candidate={candidate} first={results[0]!} />
      <div className="mt-1.5 flex gap-1.5">
        <button
          type="button"
          className="btn flex-1"
          aria-pressed={looked === index}
          onClick={() => look(looked === index ? null : index)}
        >
          {looked === index ? 'Take it off' : 'Look at it'}
        </button>
        <button type="button" className="btn btn-main flex-1" onClick={take}>
          Take over
        </button>
      </div>
    </div>
  );
}

/** What it measured, against where the search began. */
function Measured({ candidate, first }: { candidate: Candidate; first: Candidate }) {
  const tell = ({ worst, cost }: Candidate): string =>
    [
      `${(1e4 * (worst.showThrough ?? 0)).toFixed(1)} cm² shows`,
      `${(1e3 * (worst.penetration ?? 0)).toFixed(1)} mm deep`,
      `${(1e2 * (worst.stretch ?? 0)).toFixed(1)} % stretch`,
      `${(1e3 * (worst.jitter ?? 0)).toFixed(2)} mm jitter`,
      `${cost.toFixed(2)} ms`,
    ].join(', ');
  return (
    <p className="mt-1 text-xs text-soft">
      <b className={candidate.passes ? 'text-moss' : 'text-brick'}>
        {candidate.passes ? '✓ keeps all limits' : '✕ breaks a limit'}
      </b>
      : {tell(candidate)}. It began with {tell(first)}.
    </p>
  );
}
