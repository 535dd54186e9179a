import { useState } from 'react';
import type { FoundSet } from '../../../../../core/suggest/index.ts';
import { useDocument } from '../../../../state/workbench.ts';
import { SetCurve } from './SetCurve.tsx';

export interface SuggestedSetsProps {
  sets: readonly FoundSet[];
  onTake(set: FoundSet): void;
}

/** The sets on a curve and in a table, of which one is chosen and used. */
export function SuggestedSets({ sets, onTake }: SuggestedSetsProps) {
  const { character } = useDocument();
  const [picked, setPicked] = useState<number | null>(null);
  const best = keepBest(sets);
  const chosen = best.find(({ bodies }) => bodies.length === picked) ?? best.at(-1)!;
  return (
    <div className="mt-3 border-t border-line pt-2.5">
      <SetCurve
        sets={best}
        chosen={best.indexOf(chosen)}
        onPick={(index) => setPicked(best[index]!.bodies.length)}
      />
      <div className="mt-1.5 max-h-[150px] overflow-y-auto rounded-md border border-line bg-surface">
        <table className="w-full border-collapse text-right text-xs" aria-label="Suggested sets">
          <thead className="sticky top-0 bg-panel text-soft">
            <tr>
              <th className="px-1 py-1 text-left font-medium whitespace-nowrap">Bodies</th>
              <th
                className="px-1 py-1 font-medium whitespace-nowrap"
                title="Area that shows through, mean of the clips"
              >
                Shows cm²
              </th>
              <th
                className="px-1 py-1 font-medium whitespace-nowrap"
                title="Deepest place of cloth in the skin, on all clips"
              >
                Deep mm
              </th>
              <th
                className="px-1 py-1 font-medium whitespace-nowrap"
                title="Of the garments that use this set, a frame, on the target"
              >
                ms
              </th>
            </tr>
          </thead>
          <tbody>
            {best.map((set) => (
              <tr
                key={set.bodies.length}
                aria-selected={set === chosen}
                className={`cursor-pointer ${set === chosen ? 'bg-teal-wash font-semibold text-teal' : 'hover:bg-paper'}`}
                onClick={() => setPicked(set.bodies.length)}
              >
                <td className="px-2 py-[3px] text-left">
                  <button type="button" aria-pressed={set === chosen}>
                    {set.bodies.length}
                  </button>
                </td>
                <td className="num px-1 py-[3px]">{(1e4 * set.showThrough).toFixed(1)}</td>
                <td className="num px-1 py-[3px]">{(1e3 * set.penetration).toFixed(0)}</td>
                <td className="num px-1 py-[3px]">{set.cost.toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <ul className="mt-1.5 text-xs text-soft" aria-label="By clip">
        {chosen.demands.map(({ clip, showThrough, penetration }) => (
          <li key={clip} className="flex justify-between gap-2">
            <span className="truncate">{character.clips[clip]?.name}</span>
            <span className="num whitespace-nowrap">
              {(1e4 * showThrough).toFixed(1)} cm², {(1e3 * penetration).toFixed(0)} mm
            </span>
          </li>
        ))}
      </ul>
      <button type="button" className="btn btn-main mt-2 w-full" onClick={() => onTake(chosen)}>
        Use {chosen.bodies.length === 1 ? 'this body' : `these ${chosen.bodies.length} bodies`}
      </button>
    </div>
  );
}

/** Of each number of bodies the set that lets least through, by number. */
function keepBest(sets: readonly FoundSet[]): FoundSet[] {
  const best = new Map<number, FoundSet>();
  for (const set of sets) {
    const known = best.get(set.bodies.length);
    if (!known || set.showThrough < known.showThrough) best.set(set.bodies.length, set);
  }
  return [...best.values()].sort((p, q) => p.bodies.length - q.bodies.length);
}
