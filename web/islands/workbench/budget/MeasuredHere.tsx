import { useState } from 'react';
import { sumTimes } from '../../../../core/run/index.ts';
import { useStore } from '../../../state/store.ts';
import { useWorkbench } from '../../../state/workbench.ts';

/** A slow frame takes so many times what a quick one does: the machine is busy. */
const SCATTERED = 2;

/** What the live preview takes in this browser by the clock, when asked. */
export function MeasuredHere() {
  const { preview } = useWorkbench();
  const stats = useStore(preview.store, (state) => state.stats);
  const [isAsked, setAsked] = useState(false);
  if (!stats) return null;
  const [quick, slow] = stats.quickAndSlow;
  return (
    <details
      className="mt-2 border-t border-line pt-2 text-xs"
      onToggle={({ currentTarget }) => setAsked(currentTarget.open)}
    >
      <summary className="cursor-pointer text-soft">By the clock, in this browser</summary>
      {isAsked && (
        <p className="mt-1 text-soft">
          The quick frames of the last three seconds took{' '}
          <span
            className="num text-ink"
            data-measured={sumTimes(stats.times).toFixed(3)}
            data-cores={stats.cores}
          >
            {sumTimes(stats.times).toFixed(2)} ms
          </span>{' '}
          each{stats.cores > 1 && `, on ${stats.cores} cores together`}; drawing is not counted.{' '}
          <span className="num">{stats.framesPerSecond}</span> frames were simulated in the last second.
          {slow > SCATTERED * quick && (
            <>
              {' '}
              Frames took <span className="num">{quick.toFixed(2)}</span> to{' '}
              <span className="num">{slow.toFixed(2)} ms</span>: this machine is busy with something else.
            </>
          )}
          {stats.recoveredFrames > 0 && (
            <span className="text-brick"> {stats.recoveredFrames} unstable frames were restored.</span>
          )}
        </p>
      )}
    </details>
  );
}
