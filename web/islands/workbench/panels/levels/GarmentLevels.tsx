import {
  type GarmentLevel,
  type GarmentRecord,
  LEVEL_PIXELS,
  MOST_LEVELS,
  PLAIN_LEVEL,
} from '../../../../../core/document/index.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { LevelCard } from './LevelCard.tsx';

/** What a garment begins with as its first level, px. */
const FIRST_PIXELS = 400;

/** The levels of one garment, from near to far. */
export function GarmentLevels({ garment }: { garment: GarmentRecord }) {
  const { levels: work } = useWorkbench();
  const { levels } = garment;
  const set = (label: string, next: readonly GarmentLevel[], mergeKey?: string): void =>
    work.setLevels(garment, label, next, mergeKey);
  const add = (): void => {
    const last = levels.at(-1);
    const pixels = last ? Math.max(LEVEL_PIXELS.least, Math.round(last.pixels / 2)) : FIRST_PIXELS;
    set('add a level', [...levels, { ...PLAIN_LEVEL, ...last, pixels }]);
  };
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label={`Levels of ${garment.name}`}>
      <div className="flex items-center gap-2">
        <h2 className="min-w-0 flex-1 truncate font-semibold">{garment.name}</h2>
        <button
          type="button"
          className="btn !py-0.5 text-xs"
          title="Coarser meshes with as many pixels to an edge as near by, fewer substeps, and off where its motion is not seen"
          onClick={() => work.propose([garment])}
        >
          {levels.length > 0 ? 'Propose anew' : 'Propose levels'}
        </button>
        <button
          type="button"
          className="btn !py-0.5 text-xs"
          disabled={levels.length >= MOST_LEVELS}
          onClick={add}
        >
          Add a level
        </button>
      </div>
      {levels.length === 0 && (
        <p className="mt-1 text-xs text-soft">It is simulated as it is at every size.</p>
      )}
      <ol className="mt-1.5 grid gap-2">
        {levels.map((level, index) => (
          <LevelCard
            // biome-ignore lint/suspicious/noArrayIndexKey: a level is known by its place alone.
            key={index}
            garment={garment}
            level={level}
            index={index}
            onChange={(label, change) =>
              set(
                label,
                levels.map((each, i) => (i === index ? { ...each, ...change } : each)),
                `${garment.id} level ${index} ${Object.keys(change).join()}`,
              )
            }
            onRemove={() =>
              set(
                'remove a level',
                levels.filter((_, i) => i !== index),
              )
            }
          />
        ))}
      </ol>
    </section>
  );
}
