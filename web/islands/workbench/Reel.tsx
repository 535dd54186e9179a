import { type MouseEvent, type RefObject, useEffect, useRef } from 'react';
import { findWorstGarment, type TrialFrame } from '../../../core/trials/index.ts';
import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';
import { PlaybackControls } from '../parts/PlaybackControls.tsx';
import { ReelRow } from './ReelRow.tsx';

const ROWS = [
  {
    key: 'showThrough',
    label: 'show-through',
    effect: 'Area of skin, or of a garment beneath, that stands out of the cloth that covers it',
    unit: 'cm²',
    factor: 10_000,
    digits: 1,
    color: '#AE3A2C',
    summary: 'most',
    leastTop: 10,
  },
  {
    key: 'penetration',
    label: 'penetration',
    effect: 'How deep the deepest place of cloth lies in the body',
    unit: 'mm',
    factor: 1000,
    digits: 1,
    color: '#2C1A3D',
    summary: 'most',
    leastTop: 10,
  },
  {
    key: 'stretch',
    label: 'stretch',
    effect: 'The strain that 99 % of all edge length stays below',
    unit: '%',
    factor: 100,
    digits: 1,
    color: '#B97F10',
    summary: 'most',
    leastTop: 10,
  },
  {
    key: 'scatter',
    label: 'scatter',
    effect: 'How far the simulated points are from where they were one round of the clip before',
    unit: 'mm',
    factor: 1000,
    digits: 1,
    color: '#4E7A3B',
    summary: 'mean',
    leastTop: 10,
  },
  {
    key: 'cost',
    label: 'cost',
    effect: 'What a simulated frame took',
    unit: 'ms',
    factor: 1,
    digits: 2,
    color: '#13696A',
    summary: 'mean',
    leastTop: 1,
  },
] as const;

export interface ReelProps {
  viewport: RefObject<Viewport | null>;
}

/** Clips, playhead, and what a trial of the clip measured over time. A click goes there. */
export function Reel({ viewport }: ReelProps) {
  const workbench = useWorkbench();
  const { playback } = workbench;
  return (
    <section className="flex h-full flex-col px-3.5 pt-2 pb-1.5" aria-label="Reel">
      <PlaybackControls playback={playback} onClip={(clip) => workbench.setClip(clip)} />
      <ReelRows viewport={viewport} />
    </section>
  );
}

function ReelRows({ viewport }: ReelProps) {
  const workbench = useWorkbench();
  const { frames, isRunning, failure } = useStore(workbench.trial.store, (state) => state);
  const clip = useStore(workbench.session, (session) => session.clip);
  if (clip === null) {
    return (
      <p className="mt-3 text-soft">
        Choose a clip to see the character move, and to measure show-through, penetration, stretch, scatter
        and cost over it.
      </p>
    );
  }
  const { duration } = workbench.editor.character.clips[clip]!;
  const goTo = (key: Measure, event: MouseEvent<HTMLElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
    // A click near a peak means the peak.
    const frame = findPeakNear(frames, key, share * duration, (12 / box.width) * duration);
    workbench.playback.seek(frame?.time ?? share * duration);
    const place = frame && findWorstGarment(frame, key)?.places[key];
    if (place) viewport.current?.framePosition(place.position);
  };
  // What does not close has no round before.
  const rows = ROWS.filter(({ key }) => key !== 'scatter' || frames[0]?.scatter !== null);
  return (
    <div className="relative mt-1 min-h-0 flex-1" data-trial={isRunning ? 'running' : 'done'}>
      {failure && <p className="text-brick">The trial failed: {failure}</p>}
      {rows.map(({ key, ...row }) => (
        <ReelRow
          key={key}
          {...row}
          values={frames.map((frame) => row.factor * (frame[key] ?? 0))}
          times={frames.map((frame) => frame.time)}
          duration={duration}
          isStale={isRunning}
          onClick={(event) => goTo(key, event)}
        />
      ))}
      <Playhead duration={duration} />
    </div>
  );
}

type Measure = (typeof ROWS)[number]['key'];

/** The frame in which a measure is highest within a window of time; where it is 0, none. */
function findPeakNear(
  frames: readonly TrialFrame[],
  key: Measure,
  time: number,
  window: number,
): TrialFrame | null {
  let best: TrialFrame | null = null;
  for (const frame of frames) {
    if (Math.abs(frame.time - time) <= window && (frame[key] ?? 0) > (best?.[key] ?? 0)) best = frame;
  }
  return best;
}

/** Follows the preview without rendering React. */
function Playhead({ duration }: { duration: number }) {
  const { preview } = useWorkbench();
  const line = useRef<HTMLDivElement>(null);
  useEffect(
    function followTime() {
      let request = 0;
      const follow = (): void => {
        request = requestAnimationFrame(follow);
        const frame = preview.readFrame();
        if (frame && line.current)
          line.current.style.left = `${duration > 0 ? Math.min(100, (100 * frame.time) / duration) : 0}%`;
      };
      follow();
      return () => cancelAnimationFrame(request);
    },
    [preview, duration],
  );
  return (
    <div className="pointer-events-none absolute inset-y-0 right-0 left-[176px]" aria-hidden>
      <div ref={line} className="absolute inset-y-0 w-[2px] -translate-x-1/2 bg-teal">
        <div className="absolute -top-1 left-1/2 h-2 w-2.5 -translate-x-1/2 rounded-[2px] bg-teal" />
      </div>
    </div>
  );
}
