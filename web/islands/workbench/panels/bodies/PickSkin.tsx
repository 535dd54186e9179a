import { toast } from 'sonner';
import { type BodyRecord, fitToPlaces, listBodySections } from '../../../../../core/document/index.ts';
import { tellVertices } from '../../../../../core/math/index.ts';
import { getSectionMesh } from '../../../../state/section-mesh.ts';
import type { FacePick } from '../../../../state/session.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { SizeRow } from '../../../parts/SizeRow.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

export interface PickSkinProps {
  body: BodyRecord;
  /** Of a hull, at most. */
  hullVertices: number;
}

/** Skin that is brushed or outlined, for a body to be fitted to. */
export function PickSkin({ body, hullVertices }: PickSkinProps) {
  const workbench = useWorkbench();
  const { session } = workbench;
  const editor = useDocument();
  const pick = useStore(session, (state) => state.pick);
  if (pick?.purpose !== 'fit') return null;
  const { character } = editor;
  const sections = listBodySections(editor.document, character);
  const mesh = getSectionMesh(character, pick.sectionIndex);
  const points = new Set<number>();
  mesh.faces.forEach((point, i) => {
    if (pick.isPicked[Math.floor(i / 3)]) points.add(point);
  });
  const set = (update: Partial<FacePick>): void => session.set({ pick: { ...pick, ...update } });
  const fit = (): void => {
    const places = Float32Array.from(
      [...points].flatMap((point) => [...mesh.pointPositions.subarray(3 * point, 3 * point + 3)]),
    );
    try {
      editor.updateRecord('Fit to picked skin', body, {
        shape: fitToPlaces(character, body, places, hullVertices),
      });
      workbench.endEdits();
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      toast.error(error.message);
    }
  };
  return (
    <section className="mt-2 rounded-md bg-paper p-2" aria-label="Pick skin">
      <p className="text-xs text-soft">
        {pick.tool === 'brush'
          ? 'Brush over the skin; drag beside it to turn the view.'
          : 'Draw a line around the skin; hold T and drag to turn the view.'}
      </p>
      {sections.length > 1 && (
        <select
          className="field mt-1.5 w-full"
          aria-label="Section of the skin"
          value={pick.sectionIndex}
          onChange={(event) => workbench.pickFaces(Number(event.target.value), 'fit')}
        >
          {sections.map((index) => (
            <option key={index} value={index}>
              {character.sections[index]!.name}
            </option>
          ))}
        </select>
      )}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <Choice
          label="Tool"
          value={pick.tool}
          options={[
            { value: 'brush', label: 'Brush' },
            { value: 'lasso', label: 'Lasso' },
          ]}
          onChange={(tool) => set({ tool })}
        />
        <ToggleChip label="Deselect" isOn={pick.isErasing} onToggle={(isErasing) => set({ isErasing })} />
        {pick.tool === 'lasso' && (
          <ToggleChip
            label="Include hidden"
            isOn={pick.isThrough}
            onToggle={(isThrough) => set({ isThrough })}
          />
        )}
      </div>
      {pick.tool === 'brush' && (
        <SizeRow label="Brush" value={pick.radius} onChange={(radius) => set({ radius })} />
      )}
      <p className="num mt-1 text-xs text-soft">{tellVertices(points.size)} picked</p>
      <div className="mt-1.5 flex gap-1.5">
        <button type="button" className="btn btn-main flex-1" disabled={points.size === 0} onClick={fit}>
          Fit to these
        </button>
        <button type="button" className="btn" onClick={() => workbench.endEdits()}>
          Cancel
        </button>
      </div>
    </section>
  );
}
