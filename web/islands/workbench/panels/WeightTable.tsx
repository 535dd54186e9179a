import { tellVertices } from '../../../../core/math/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import type { WeightWork } from '../../../state/weight-work.ts';
import { NumberField } from '../../parts/NumberField.tsx';

export interface WeightTableProps {
  work: WeightWork;
}

/** The weights of the selected points in numbers; of several their mean, and what is typed holds for all. */
export function WeightTable({ work }: WeightTableProps) {
  const { selected, joint } = useStore(work.store, (settings) => settings);
  useStore(work.store, (settings) => settings.revision);
  if (selected.length === 0)
    return <p className="mt-1.5 text-xs text-soft">Click a vertex of the garment.</p>;
  const { dense, jointCount } = work.bound;
  const mean = (index: number): number =>
    selected.reduce((sum, point) => sum + dense[jointCount * point + index]!, 0) / selected.length;
  const rows = work.jointNames
    .map((name, index) => ({ name, index, weight: mean(index) }))
    .filter(({ weight, index }) => weight > 0 || index === joint)
    .sort((p, q) => q.weight - p.weight);
  return (
    <table className="mt-1.5 w-full text-xs" aria-label="Weights of the selection">
      <caption className="text-left text-soft">
        {selected.length === 1 ? `Vertex ${selected[0]}` : `${tellVertices(selected.length)}, mean`}
      </caption>
      <tbody>
        {rows.map(({ name, index, weight }) => (
          <tr key={name} className="border-b border-line">
            <td className="truncate py-0.5">{name}</td>
            <td className="w-[86px]">
              <NumberField
                label={`Weight of ${name}`}
                value={100 * weight}
                unit="%"
                digits={2}
                onCommit={(percent) =>
                  void runPreparation(() => work.type(index, Math.min(1, Math.max(0, percent / 100))))
                }
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
