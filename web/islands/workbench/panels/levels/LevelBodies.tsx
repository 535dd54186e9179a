import { Popover } from 'radix-ui';
import { type GarmentLevel, type GarmentRecord, listBodies } from '../../../../../core/document/index.ts';
import { useDocument } from '../../../../state/workbench.ts';

export interface LevelBodiesProps {
  garment: GarmentRecord;
  level: GarmentLevel;
  onChange(label: string, change: Partial<GarmentLevel>): void;
}

/** Which bodies of its set a garment meets at a level. */
export function LevelBodies({ garment, level, onChange }: LevelBodiesProps) {
  const { document, character } = useDocument();
  const bodies = listBodies(document, garment.bodySetId, character.skeleton);
  const without = new Set(level.withoutBodies);
  const met = bodies.filter(({ id }) => !without.has(id)).length;
  if (bodies.length === 0) return <span className="text-xs text-soft">No bodies</span>;
  const setWithout = (ids: ReadonlySet<string>): void =>
    onChange('bodies of a level', {
      withoutBodies: bodies.flatMap(({ id }) => (ids.has(id) ? [id] : [])),
    });
  return (
    <Popover.Root>
      <Popover.Trigger className="chip num !py-0 text-xs" title="Bodies that it meets at this level">
        {met === bodies.length ? `all ${met} bodies` : `${met} of ${bodies.length} bodies`}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          className="card z-50 max-h-[320px] w-[230px] overflow-y-auto bg-panel p-3 shadow-lg"
          aria-label="Bodies at this level"
        >
          <div className="mb-1.5 flex gap-2 text-xs">
            <button type="button" className="underline" onClick={() => setWithout(new Set())}>
              All
            </button>
            <button
              type="button"
              className="underline"
              onClick={() => setWithout(new Set(bodies.map(({ id }) => id)))}
            >
              None
            </button>
          </div>
          {bodies.map(({ id, name }) => (
            <label key={id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-teal"
                checked={!without.has(id)}
                onChange={(event) => {
                  const next = new Set<string>(without);
                  if (event.target.checked) next.delete(id);
                  else next.add(id);
                  setWithout(next);
                }}
              />
              <span className="truncate">{name}</span>
            </label>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
