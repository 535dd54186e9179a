import { ClipboardPaste, Grid3x3, Plus } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import {
  type AuthoredRecord,
  BODY_DEFAULTS,
  type BodyRecord,
  listBodies,
  listBodyMeshes,
  listGarments,
  listRecords,
  type RecordId,
  toSetRecords,
} from '../../../../../core/document/index.ts';
import { USUAL_SIZE } from '../../../../../core/rig/index.ts';
import { placeCopiedBodies } from '../../../../state/body-clipboard.ts';
import { createId } from '../../../../state/editor.ts';
import { getFigure } from '../../../../state/get-figure.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { SuggestIcon } from '../../../parts/icons/ToolIcons.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { BodyTable } from './BodyTable.tsx';
import { CompareSets } from './CompareSets.tsx';
import { FollowsRow } from './FollowsRow.tsx';
import { GroupMatrix } from './GroupMatrix.tsx';
import { NewBodyMesh } from './NewBodyMesh.tsx';
import { SelectedBodies } from './SelectedBodies.tsx';
import { SelectedMesh } from './SelectedMesh.tsx';
import { SetRow } from './SetRow.tsx';
import { type FitPose, SkinFit } from './SkinFit.tsx';
import { SuggestCard } from './SuggestCard.tsx';
import { UseCard } from './UseCard.tsx';

/** Collision bodies of the selected garment's set. */
export function BodiesPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { garmentId, bodyIds } = useStore(workbench.session, (session) => session);
  const garments = listGarments(editor.document);
  const garment = garments.find(({ id }) => id === garmentId) ?? garments[0];
  const { skeleton, skins } = editor.character;
  const bodySetId = garment?.bodySetId ?? listRecords(editor.document, 'bodySet')[0]?.id;
  const bodySet = bodySetId && editor.document.records.get(bodySetId);
  const bodies = bodySetId ? listBodies(editor.document, bodySetId, skeleton) : [];
  const meshes = bodySetId ? listBodyMeshes(editor.document, bodySetId) : [];
  const isEmpty = bodies.length + meshes.length === 0;
  const selected = bodies.filter(({ id }) => bodyIds.includes(id));
  const selectedMesh = meshes.find(({ id }) => id === bodyIds.at(-1));
  const [isMaking, setMaking] = useState(false);
  const ensureSet = (): RecordId => bodySetId ?? editor.ensureBodySet();
  const [isSuggesting, setSuggesting] = useState(false);
  const { task } = useStore(workbench.bodySuggesting.store, (state) => state);
  useEffect(
    function openForTask() {
      // One that was under way when the page was opened.
      if (task !== null) setSuggesting(true);
    },
    [task],
  );
  const [pose, setPose] = useState<FitPose>('bind');
  const { bodyFigures } = workbench;
  useEffect(
    function followFit() {
      bodyFigures.watch(bodySetId ?? null);
      return () => bodyFigures.watch(null);
    },
    [bodyFigures, bodySetId],
  );
  const add = (): void => {
    const jointName = selected[0]?.jointName ?? skeleton.names[skins[0]?.joints[0] ?? 0]!;
    // In proportion, in numbers that read well.
    const sized = (length: number): number =>
      Number(((length * getFigure(editor.character).size) / USUAL_SIZE).toPrecision(2));
    const radius = sized(0.06);
    const record: BodyRecord = {
      type: 'body',
      id: createId(),
      bodySetId: ensureSet(),
      name: jointName,
      jointName,
      shape: { kind: 'capsule', a: [0, 0, 0], b: [0, -sized(0.2), 0], radiusA: radius, radiusB: radius },
      ...BODY_DEFAULTS,
    };
    editor.changeRecords('Add body', [[record.id, record]]);
    workbench.session.set({ bodyIds: [record.id] });
  };
  const paste = (): void => {
    const placed = placeCopiedBodies(editor);
    if (placed.length === 0) {
      toast.error('Nothing to paste: copy bodies first, here or on another character.');
      return;
    }
    const made = toSetRecords(placed, ensureSet(), createId);
    const lost = placed.filter(({ body }) => !body).map(({ joint }) => joint);
    if (made.length === 0) {
      toast.error(`No joint of this character is called ${lost.join(', ')}: nothing was pasted.`);
      return;
    }
    editor.changeRecords(
      made.length === 1 ? `Paste body ${made[0]!.name}` : `Paste ${made.length} bodies`,
      made.map((record): [RecordId, AuthoredRecord] => [record.id, record]),
    );
    workbench.session.set({ bodyIds: made.map(({ id }) => id) });
    const count = made.length === 1 ? '1 body was pasted' : `${made.length} bodies were pasted`;
    toastUndo(editor, lost.length > 0 ? `${count}; there is no joint ${lost.join(', ')}` : count);
  };
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Bodies</h1>
      {garment && <SetRow garment={garment} />}
      <button
        type="button"
        className={`btn mt-3 w-full ${isEmpty && !isSuggesting ? 'btn-main' : ''}`}
        data-tour="suggest-bodies"
        title="Fit bodies to the skin, as few as keep the cloth out of it on the clips"
        aria-expanded={isSuggesting}
        onClick={() => setSuggesting(!isSuggesting)}
      >
        <SuggestIcon /> Suggest bodies
      </button>
      <div className="mt-1.5 flex gap-1.5">
        <button type="button" className="btn flex-1 !px-1.5" title="One more body, on a joint" onClick={add}>
          <Plus size={14} /> Add
        </button>
        <button
          type="button"
          className="btn flex-1 !px-1.5"
          aria-label="Add a body mesh"
          title="Cover the skin with a mesh of few vertices"
          aria-expanded={isMaking}
          onClick={() => setMaking(!isMaking)}
        >
          <Grid3x3 size={14} /> Mesh
        </button>
        <button
          type="button"
          className="btn flex-1 !px-1.5"
          aria-label="Paste bodies"
          title="Paste copied bodies onto joints of the same names"
          onClick={paste}
        >
          <ClipboardPaste size={14} /> Paste
        </button>
      </div>
      {isSuggesting && (
        <SuggestCard
          ensureSet={ensureSet}
          bodies={bodies}
          selected={selected}
          onClose={() => {
            workbench.bodySuggesting.cancel();
            setSuggesting(false);
          }}
        />
      )}
      {isMaking && <NewBodyMesh ensureSet={ensureSet} onClose={() => setMaking(false)} />}
      {isEmpty ? (
        <p className="mt-3 text-soft">No bodies yet: the cloth passes through the character.</p>
      ) : (
        <BodyTable bodies={bodies} meshes={meshes} pose={pose} />
      )}
      {selectedMesh && <SelectedMesh key={selectedMesh.id} mesh={selectedMesh} />}
      {!selectedMesh && selected.length > 0 && (
        <SelectedBodies key={selected.map(({ id }) => id).join()} bodies={selected} />
      )}
      {!selectedMesh && selected.length === 0 && bodies.length > 0 && (
        <p className="mt-3 text-soft">
          Click a body, here or on the character, to change it; with Shift several. Drag its teal handles to
          move, the white ones to size, the violet ones to turn it.
        </p>
      )}
      {bodySetId && !isEmpty && <SkinFit bodySetId={bodySetId} pose={pose} onPose={setPose} />}
      {bodySetId && !isEmpty && <UseCard bodySetId={bodySetId} bodies={bodies} />}
      {bodySet?.type === 'bodySet' && bodies.length > 0 && <FollowsRow set={bodySet} />}
      {garment && <CompareSets garment={garment} />}
      <GroupMatrix
        bodies={[...bodies, ...meshes]}
        garments={garments.filter((one) => one.bodySetId === bodySetId)}
      />
    </>
  );
}
