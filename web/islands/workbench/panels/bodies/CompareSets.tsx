import { useState } from 'react';
import {
  countBodies,
  type GarmentRecord,
  listRecords,
  type RecordId,
} from '../../../../../core/document/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

/** The set of a garment beside another one: what each leaves open and takes on the clip that plays. */
export function CompareSets({ garment }: { garment: GarmentRecord }) {
  const { session, bodyFigures } = useWorkbench();
  const { document, character } = useDocument();
  const { clip, besideSetId } = useStore(session, (state) => state);
  const { compared, task } = useStore(bodyFigures.store, (state) => state);
  const sets = listRecords(document, 'bodySet');
  const others = sets.filter(({ id }) => id !== garment.bodySetId);
  const [picked, setPicked] = useState<RecordId | null>(null);
  const other = others.find(({ id }) => id === picked) ?? others[0];
  if (!other || character.clips.length === 0) return null;
  const own = sets.find(({ id }) => id === garment.bodySetId)!;
  const countIn = (id: RecordId): number => countBodies(document, id);
  const shown = compared?.usedSetId === own.id && compared.triedSetId === other.id ? compared : null;
  const rows = shown && [
    ['Bodies', countIn(own.id), countIn(other.id)],
    ['Show-through, mean cm²', ...[shown.used, shown.tried].map((one) => (1e4 * one.showThrough).toFixed(1))],
    [
      'Show-through, worst cm²',
      ...[shown.used, shown.tried].map((one) => (1e4 * one.mostShowThrough).toFixed(1)),
    ],
    ['Penetration, mm', ...[shown.used, shown.tried].map((one) => (1e3 * one.penetration).toFixed(1))],
    ['Cost, ms a frame', ...[shown.used, shown.tried].map((one) => one.cost.toFixed(2))],
  ];
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="Compare sets">
      <h2 className="font-semibold">Compare {own.name} with</h2>
      <div className="mt-2 flex gap-1.5">
        <select
          className="field min-w-0 flex-1"
          aria-label="Set to compare with"
          value={other.id}
          onChange={(event) => {
            const id = event.target.value as RecordId;
            setPicked(id);
            if (besideSetId !== null) session.set({ besideSetId: id });
          }}
        >
          {others.map(({ id, name }) => (
            <option key={id} value={id}>
              {name} ({countIn(id)})
            </option>
          ))}
        </select>
        <button
          type="button"
          className="btn"
          disabled={task !== null}
          title={
            task === null
              ? 'Plays the clip with the bodies of either set'
              : 'Something else is being measured'
          }
          onClick={() => void bodyFigures.compare(own.id, other.id, clip ?? 0)}
        >
          Compare
        </button>
      </div>
      <div className="mt-1.5">
        <ToggleChip
          label="Draw both"
          hint={`Draws the bodies of ${other.name} beside these, with dashed lines, where they differ`}
          isOn={besideSetId === other.id}
          onToggle={(isOn) => session.set({ besideSetId: isOn ? other.id : null })}
        />
      </div>
      {shown && rows && (
        <table
          className={`mt-2 w-full text-right text-xs ${shown.isOld ? 'opacity-60' : ''}`}
          aria-label="Both sets"
        >
          <thead className="text-soft">
            <tr>
              <th className="text-left font-medium">{character.clips[shown.used.clip]?.name}</th>
              <th className="font-medium">{own.name}</th>
              <th className="font-medium">{other.name}</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([label, ...values]) => (
              <tr key={label}>
                <td className="py-[2px] text-left">{label}</td>
                {values.map((value, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a column for each set
                  <td key={i} className="num pl-3">
                    {value}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {shown?.isOld && <p className="text-xs text-soft">Bodies, maps or cloth changed since.</p>}
    </section>
  );
}
