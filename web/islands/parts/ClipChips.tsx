import type { Clip } from '../../../core/rig/index.ts';
import { ToggleChip } from './ToggleChip.tsx';

export interface ClipChipsProps {
  /** What they are chosen for. */
  label: string;
  clips: readonly Pick<Clip, 'name'>[];
  /** By index. */
  chosen: ReadonlySet<number>;
  onChange(chosen: ReadonlySet<number>): void;
}

/** Clips, each chosen or not. */
export function ClipChips({ label, clips, chosen, onChange }: ClipChipsProps) {
  return (
    <div className="flex flex-wrap gap-1" role="group" aria-label={label}>
      {clips.map(({ name }, clip) => (
        <ToggleChip
          key={name}
          label={name}
          className="chip !px-2 !py-0 text-xs"
          isOn={chosen.has(clip)}
          onToggle={(isOn) => {
            const next = new Set(chosen);
            if (isOn) next.add(clip);
            else next.delete(clip);
            onChange(next);
          }}
        />
      ))}
    </div>
  );
}
