import { Eye, Trash2 } from 'lucide-react';
import { addressVersion, tellTime } from '../../../../state/history-client.ts';
import { useStore } from '../../../../state/store.ts';
import { chooseOld } from '../../../../state/thin-out.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import type { TrialEntry } from '../../../../wire/trials.ts';

/** Which trial is shown, and which earlier one beside it; old ones can go. */
export function TrialPicker() {
  const { trials: work, info } = useWorkbench();
  const { trials, shown, earlier, changes } = useStore(work.store, (state) => state);
  const entry = trials.find(({ id }) => id === shown?.id);
  if (!shown || !entry) return null;
  const old = chooseOld(trials);
  const others = trials.filter(({ createdAt }) => createdAt < entry.createdAt);
  return (
    <section className="mt-3" aria-label="Trials">
      <div className="flex items-center gap-1.5">
        <select
          className="field min-w-0 flex-1 !py-0.5"
          aria-label="Trial that is shown"
          value={shown.id}
          onChange={(event) => void work.show(event.target.value)}
        >
          {trials.map((trial) => (
            <option key={trial.id} value={trial.id}>
              {tellTrial(trial)}
            </option>
          ))}
        </select>
        <a
          className="btn btn-quiet !px-1"
          href={addressVersion(info.id, {
            id: entry.id,
            label: `the state of the trial of ${tellTime(entry.createdAt)}`,
            isTrial: true,
          })}
          aria-label="Look at what was measured"
          title="Open the exact state that this trial is of"
        >
          <Eye size={15} />
        </a>
        <button
          type="button"
          className="btn btn-quiet !px-1"
          aria-label="Delete this trial"
          title="Delete this trial"
          onClick={() => void work.remove([entry.id])}
        >
          <Trash2 size={15} />
        </button>
      </div>
      <p className="mt-1 flex items-baseline gap-2 text-xs text-soft">
        <span data-fits={entry.fits}>
          {entry.fits ? 'Of what is on the screen.' : 'Old: something has changed since.'}
        </span>
        {old.length > 0 && (
          <button
            type="button"
            className="btn btn-quiet !px-1 !py-0 text-xs underline"
            title="Deletes those that began by themselves, but the newest twenty and the last of each day. Those that were ordered stay."
            onClick={() => void work.remove(old.map(({ id }) => id))}
          >
            Thin out: delete {old.length.toLocaleString('en')} of {trials.length.toLocaleString('en')}
          </button>
        )}
      </p>
      {others.length > 0 && (
        <label className="mt-1.5 flex items-center gap-2">
          <span className="shrink-0 text-soft">Beside it</span>
          <select
            className="field min-w-0 flex-1 !py-0.5"
            aria-label="Earlier trial beside it"
            value={earlier?.id ?? ''}
            onChange={(event) => void work.compareWith(event.target.value || null)}
          >
            <option value="">no other trial</option>
            {others.map((trial) => (
              <option key={trial.id} value={trial.id}>
                {tellTrial(trial)}
              </option>
            ))}
          </select>
        </label>
      )}
      {earlier && changes && (
        <p className="mt-1 text-xs text-soft" data-edits="">
          <b>Edited between them:</b> {changes.length > 0 ? changes.join(' · ') : 'nothing'}
        </p>
      )}
    </section>
  );
}

function tellTrial({ createdAt, title, broken, isAutomatic, fits }: TrialEntry): string {
  const verdict = broken === 0 ? 'all pass' : `${broken} fail`;
  return `${tellTime(createdAt)}: ${title}, ${verdict}${isAutomatic ? ', by itself' : ''}${fits ? '' : ', old'}`;
}
