import { Plus } from 'lucide-react';
import {
  type AuthoredRecord,
  BODY_DEFAULTS,
  type BodyRecord,
  listBodies,
  listGarments,
  listRecords,
  type RecordId,
} from '../../../../../core/document/index.ts';
import { createId, type Editor } from '../../../../state/editor.ts';
import { runPreparation } from '../../../../state/run-preparation.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { SuggestIcon } from '../../../parts/icons/ToolIcons.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { BodyTable } from './BodyTable.tsx';
import { SelectedBodies } from './SelectedBodies.tsx';

/** Collision bodies of the selected garment's set. */
export function BodiesPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { garmentId, bodyIds } = useStore(workbench.session, (session) => session);
  const garments = listGarments(editor.document);
  const garment = garments.find(({ id }) => id === garmentId) ?? garments[0];
  const { skeleton, skins } = editor.character;
  const bodySetId = garment?.bodySetId ?? listRecords(editor.document, 'bodySet')[0]?.id;
  const bodies = bodySetId ? listBodies(editor.document, bodySetId, skeleton) : [];
  const selected = bodies.filter(({ id }) => bodyIds.includes(id));
  const suggest = (): void => {
    const setId = bodySetId ?? editor.ensureBodySet();
    void runPreparation(async () => {
      const suggested = await workbench.preparing.client.suggestBodies(setId);
      replaceBodies(editor, setId, suggested);
      workbench.session.set({ bodyIds: [] });
      toastUndo(editor, `${suggested.length} bodies were fitted to the skin`);
    });
  };
  const add = (): void => {
    const jointName = selected[0]?.jointName ?? skeleton.names[skins[0]?.joints[0] ?? 0]!;
    const record: BodyRecord = {
      type: 'body',
      id: createId(),
      bodySetId: bodySetId ?? editor.ensureBodySet(),
      name: jointName,
      jointName,
      shape: { kind: 'capsule', a: [0, 0, 0], b: [0, -0.2, 0], radiusA: 0.06, radiusB: 0.06 },
      ...BODY_DEFAULTS,
    };
    editor.changeRecords('Add body', [[record.id, record]]);
    workbench.session.set({ bodyIds: [record.id] });
  };
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Bodies</h1>
      <div className="mt-3 flex gap-1.5">
        <button
          type="button"
          className={`btn flex-1 ${bodies.length === 0 ? 'btn-main' : ''}`}
          title="Fit tapered capsules to the skin of the joints that the garments can reach"
          onClick={suggest}
        >
          <SuggestIcon /> Suggest from skin
        </button>
        <button type="button" className="btn" onClick={add}>
          <Plus size={14} /> Add
        </button>
      </div>
      {bodies.length === 0 ? (
        <p className="mt-3 text-soft">No bodies yet: the cloth passes through the character.</p>
      ) : (
        <BodyTable bodies={bodies} />
      )}
      {selected.length > 0 ? (
        <SelectedBodies key={selected.map(({ id }) => id).join()} bodies={selected} />
      ) : (
        bodies.length > 0 && (
          <p className="mt-3 text-soft">
            Click a body, here or on the character, to change it; with Shift several. Drag its teal handles to
            move, the white ones to size, the dark ones to turn it.
          </p>
        )
      )}
    </>
  );
}

/** All bodies of a set are replaced, as one step. */
function replaceBodies(editor: Editor, bodySetId: RecordId, bodies: readonly BodyRecord[]): void {
  editor.changeRecords('Suggest bodies', [
    ...listBodies(editor.document, bodySetId).map(({ id }): [RecordId, null] => [id, null]),
    ...bodies.map((body): [RecordId, AuthoredRecord] => [body.id, body]),
  ]);
}
