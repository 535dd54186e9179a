import { ArrowLeft } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { listGarments, type RecordId } from '../../../core/document/index.ts';
import type { Comparison } from '../../state/comparison.ts';
import type { Playback } from '../../state/playback.ts';
import { useStore } from '../../state/store.ts';
import type { Viewport } from '../../viewport/viewport.ts';
import { Logo } from '../parts/Logo.tsx';
import { PlaybackControls } from '../parts/PlaybackControls.tsx';
import { CompareRows } from './CompareRows.tsx';
import { SidePane } from './SidePane.tsx';

export interface CompareViewProps {
  comparison: Comparison;
}

/** Two viewports, one eye, one clock, and what differs in numbers. */
export function CompareView({ comparison }: CompareViewProps) {
  const { info, playback } = comparison;
  const viewports = useRef<(Viewport | null)[]>([null, null]);
  const garmentId = useStore(comparison.store, (state) => state.garmentId);
  const garments = listGarments(comparison.document);
  useEffect(function lookTogether() {
    const [left, right] = viewports.current;
    if (!left || !right) return;
    const stops = [left.follow(right), right.follow(left)];
    return () => {
      for (const stop of stops) stop();
    };
  }, []);
  useEffect(
    function listenForKeys() {
      const press = (event: KeyboardEvent): void => {
        const target = event.target as HTMLElement;
        if (target.closest('input:not([type=range]), textarea, select') || event.ctrlKey || event.altKey)
          return;
        if (pressKey(event.key, playback, viewports.current)) event.preventDefault();
      };
      addEventListener('keydown', press);
      return () => removeEventListener('keydown', press);
    },
    [playback],
  );
  return (
    <div className="flex h-full flex-col overflow-hidden">
      <header className="flex h-13 shrink-0 items-center gap-4 border-b border-line bg-panel px-4">
        <Logo />
        <span className="min-w-0 truncate text-soft">
          {info.project.name} <span className="text-line">/</span>{' '}
          <span className="text-ink">{info.name}</span>
        </span>
        <h1 className="text-[16px] font-semibold">Compare</h1>
        {garments.length > 0 && (
          <label className="flex items-center gap-2 text-soft">
            fabrics on
            <select
              className="field !w-auto text-ink"
              value={garmentId ?? ''}
              onChange={(event) => comparison.setGarment(event.target.value as RecordId)}
            >
              {garments.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        )}
        <a className="btn ml-auto" href={`/characters/${info.id}`}>
          <ArrowLeft size={14} /> Workbench
        </a>
      </header>
      {garments.length === 0 ? (
        <p className="m-auto max-w-sm text-soft">
          No section of this character is a garment yet. Make one in the workbench, at the stage Garment; then
          its settings can be compared here.
        </p>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-2">
          {[0, 1].map((side) => (
            <SidePane key={side} comparison={comparison} side={side} viewports={viewports} />
          ))}
        </div>
      )}
      <section
        className="h-[172px] shrink-0 border-t border-line bg-panel px-3.5 pt-2 pb-2"
        aria-label="Reel"
      >
        <PlaybackControls playback={playback} onClip={(clip) => comparison.setClip(clip)} />
        <CompareRows comparison={comparison} />
      </section>
    </div>
  );
}

/** @returns Whether the key means something here. */
function pressKey(key: string, playback: Playback, viewports: readonly (Viewport | null)[]): boolean {
  const { isPlaying, pace } = playback.session.state;
  switch (key) {
    case ' ':
      playback.setPlaying(!isPlaying);
      return true;
    case ',':
    case '.':
      playback.stepFrame(key === ',' ? -1 : 1);
      return true;
    case 'n':
      playback.stepSimulation();
      return true;
    case 'p':
      playback.setPace(pace === 0 ? 1 : 0);
      return true;
    case 'Home':
      viewports[0]?.frameAll();
      return true;
    default:
      return false;
  }
}
