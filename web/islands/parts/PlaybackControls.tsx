import { ChevronLeft, ChevronRight, Pause, Play } from 'lucide-react';
import type { Playback } from '../../state/playback.ts';
import { useStore } from '../../state/store.ts';
import { Choice } from './Choice.tsx';

/** In place of a clip. */
const BIND = -1;

const SPEEDS = [0.25, 0.5, 1, 1.5];
/** Simulated seconds per second. */
const PACES = [
  { pace: 1, label: '1×' },
  { pace: 0.5, label: '0.5×' },
  { pace: 0.25, label: '0.25×' },
  { pace: 0.1, label: '0.1×' },
  { pace: 0, label: 'stopped' },
];

export interface PlaybackControlsProps {
  playback: Playback;
  onClip(clip: number | null): void;
}

/** Play, pause and step; the clips; slow motion and the clip's speed. */
export function PlaybackControls({ playback, onClip }: PlaybackControlsProps) {
  const { clip, isPlaying, speed, pace } = useStore(playback.session, (session) => session);
  const { clips } = playback.character;
  return (
    <div className="flex h-9 shrink-0 items-center gap-1.5">
      <button
        type="button"
        className="flex size-8 items-center justify-center rounded-full bg-ink text-panel disabled:bg-rim"
        disabled={clip === null}
        aria-label={isPlaying ? 'Pause' : 'Play'}
        title={`${isPlaying ? 'Pause' : 'Play'} (space)`}
        onClick={() => playback.setPlaying(!isPlaying)}
      >
        {isPlaying ? <Pause size={15} fill="currentColor" /> : <Play size={15} fill="currentColor" />}
      </button>
      <button
        type="button"
        className="btn btn-quiet !px-1"
        disabled={clip === null}
        aria-label="One frame back"
        title="One frame back (,)"
        onClick={() => playback.stepFrame(-1)}
      >
        <ChevronLeft size={16} />
      </button>
      <button
        type="button"
        className="btn btn-quiet !px-1"
        disabled={clip === null}
        aria-label="One frame on"
        title="One frame on (.)"
        onClick={() => playback.stepFrame(1)}
      >
        <ChevronRight size={16} />
      </button>
      <div className="min-w-0 flex-1 px-1">
        <Choice
          label="Clips"
          look="pills"
          value={String(clip ?? BIND)}
          options={[BIND, ...clips.keys()].map((index) => ({
            value: String(index),
            label: clips[index]?.name ?? 'bind pose',
          }))}
          onChange={(index) => onClip(Number(index) === BIND ? null : Number(index))}
        />
      </div>
      <label
        className="flex items-center gap-1.5 text-soft"
        title="Slow motion of everything (P stops and starts)"
      >
        <span className="max-[999px]:sr-only">Slow motion</span>
        <select
          className="field num !w-auto text-ink"
          value={pace}
          onChange={(event) => playback.setPace(Number(event.target.value))}
        >
          {PACES.map((each) => (
            <option key={each.pace} value={each.pace}>
              {each.label}
            </option>
          ))}
        </select>
      </label>
      <button
        type="button"
        className="btn btn-quiet !px-1.5"
        aria-label="One simulated frame"
        title="Stop, and simulate one frame of 1/60 s (N)"
        onClick={() => playback.stepSimulation()}
      >
        1 frame
      </button>
      <label className="flex items-center gap-1.5 text-soft" title="Speed of the clip">
        <span className="max-[999px]:sr-only">Clip speed</span>
        <select
          className="field num !w-auto text-ink"
          value={speed}
          onChange={(event) => playback.setSpeed(Number(event.target.value))}
        >
          {SPEEDS.map((each) => (
            <option key={each} value={each}>
              {each}×
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
