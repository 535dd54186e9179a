import { useStore } from '../../state/store.ts';
import type { Targets } from '../../state/targets.ts';

/** Measures this machine, and shows how far that is. */
export function MeasureMachine({ targets }: { targets: Targets }) {
  const { all, progress } = useStore(targets.store, (state) => state);
  const isMeasured = all[0]!.costs.source === 'machine';
  return (
    <span className="flex items-center gap-2">
      <button
        type="button"
        className="btn !py-0.5"
        disabled={progress !== null}
        onClick={() => void targets.calibrate()}
      >
        {isMeasured ? 'Measure this machine again' : 'Measure this machine'}
      </button>
      {progress !== null && (
        <span className="num text-xs">{Math.round(100 * progress)} % of about two minutes</span>
      )}
    </span>
  );
}
