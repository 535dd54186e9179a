import { findWorstError } from '../../../../core/cost/index.ts';
import { useStore } from '../../../state/store.ts';
import { useWorkbench } from '../../../state/workbench.ts';

/** Where the costs come from: which machine's, how good they are, and measuring them anew. */
export function CostSource() {
  const { costs } = useWorkbench();
  const { profile, progress, failure } = useStore(costs.store, (state) => state);
  const worst = findWorstError(profile);
  return (
    <div className="mt-2 text-xs text-soft">
      <p>
        Counted work of one simulated frame (1/60 s) times what each piece of it costs on{' '}
        {profile.source === 'machine' ? 'this machine' : 'the reference machine'}
        {profile.machine && ` (${profile.machine}, ${tellDate(profile.measuredAt)})`}: the same for the same
        clip, however busy the machine is.
        {worst !== null && (
          <>
            {' '}
            On {profile.fit!.tried.length} garments that it was not fitted to it is within{' '}
            <span className="num">{Math.ceil(100 * worst)} %</span> of what was measured.
          </>
        )}
      </p>
      <div className="mt-1.5 flex items-center gap-2">
        <button
          type="button"
          className="btn !py-0.5"
          disabled={progress !== null}
          onClick={() => void costs.calibrate()}
        >
          {profile.source === 'machine' ? 'Measure this machine again' : 'Measure this machine'}
        </button>
        {progress !== null && <span className="num">{Math.round(100 * progress)} % of about a minute</span>}
      </div>
      {failure && <p className="mt-1 text-brick">{failure}</p>}
    </div>
  );
}

function tellDate(date: string | null): string {
  return date ? new Date(date).toLocaleDateString('en', { dateStyle: 'medium' }) : 'some time ago';
}
