import type { MouseEvent, RefObject } from 'react';
import { listGarments, type MeasureKey } from '../../../../core/document/index.ts';
import { type CaseFrame, findWorstGarment, resolveAllLimits } from '../../../../core/trials/index.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import type { Viewport } from '../../../viewport/viewport.ts';
import { PlaybackControls } from '../../parts/PlaybackControls.tsx';
import { LimitsPopover } from './LimitsPopover.tsx';
import { Playhead } from './Playhead.tsx';
import { ReelRow } from './ReelRow.tsx';
import { findStrictest, isOverLimit, listReelRows } from './reel-rows.ts';
import { TimeAxis } from './TimeAxis.tsx';

export interface ReelProps {
  viewport: RefObject<Viewport | null>;
}

/** Clips, playhead, and what a trial of the clip measured over time. A click goes there. */
export function Reel({ viewport }: ReelProps) {
  const workbench = useWorkbench();
  const { playback } = workbench;
  return (
    <section className="flex h-full flex-col px-3.5 pt-2 pb-1" aria-label="Reel">
      <PlaybackControls playback={playback} onClip={(clip) => workbench.setClip(clip)} />
      <ReelRows viewport={viewport} />
    </section>
  );
}

function ReelRows({ viewport }: ReelProps) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { frames, isRunning, failure } = useStore(workbench.trial.store, (state) => state);
  const clip = useStore(workbench.session, (session) => session.clip);
  if (clip === null) {
    return (
      <p className="mt-3 text-soft">
        Choose a clip to see the character move, and to measure show-through, penetration, stretch, jitter and
        cost over it.
      </p>
    );
  }
  const { duration } = editor.character.clips[clip]!;
  const limits = resolveAllLimits(editor.document);
  const goTo = (key: MeasureKey, event: MouseEvent<HTMLElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    // A click near a peak means the peak.
    const frame = findPeakNear(frames, key, share * duration, (12 / box.width) * duration);
    workbench.playback.seek(frame?.time ?? share * duration);
    const place = frame && findWorstGarment(frame, key)?.places[key];
    if (place) viewport.current?.framePosition(place.position);
  };
  return (
    <div className="mt-0.5 flex min-h-0 flex-1 flex-col" data-trial={isRunning ? 'running' : 'done'}>
      {failure && <p className="text-brick">The trial failed: {failure}</p>}
      <div className="relative flex min-h-0 flex-1 flex-col">
        {listReelRows(listGarments(editor.document).length).map((row) => (
          <ReelRow
            key={row.key}
            row={row}
            limit={findStrictest(limits.values(), row)}
            isOver={isOverLimit(frames, limits, row.key)}
            frames={frames}
            duration={duration}
            isStale={isRunning}
            onClick={(event) => goTo(row.key, event)}
          />
        ))}
        <div className="pointer-events-none absolute inset-y-0 right-[90px] left-[238px]" aria-hidden>
          <Playhead duration={duration} />
        </div>
      </div>
      <div className="ml-[238px] grid h-3 shrink-0 grid-cols-[1fr_82px] gap-x-2">
        <TimeAxis duration={duration} />
        <LimitsPopover />
      </div>
    </div>
  );
}

/** The frame in which a measure is highest within a window of time; where it is 0, none. */
function findPeakNear(
  frames: readonly CaseFrame[],
  key: MeasureKey,
  time: number,
  window: number,
): CaseFrame | null {
  let best: CaseFrame | null = null;
  for (const frame of frames) {
    if (Math.abs(frame.time - time) <= window && (frame[key] ?? 0) > (best?.[key] ?? 0)) best = frame;
  }
  return best;
}
