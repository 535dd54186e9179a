import { Copy, FlipHorizontal2, Plus, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { type BodyShape, mirrorBody, SHAPE_KINDS, SHAPES } from '../../../../core/bodies/index.ts';
import {
  type AuthoredRecord,
  type BodyRecord,
  listBodies,
  listGarments,
  listRecords,
  type RecordId,
} from '../../../../core/document/index.ts';
import { Pose } from '../../../../core/rig/index.ts';
import { createId, type Editor } from '../../../state/editor.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { Choice } from '../../parts/Choice.tsx';
import { SuggestIcon } from '../../parts/icons/ToolIcons.tsx';
import { NumberRow } from '../../parts/NumberRow.tsx';
import { toastUndo } from '../../parts/toast-undo.ts';

const RADII = ['radiusA', 'radiusB'] as const;

/** Collision bodies of the selected garment's set. */
export function BodiesPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { garmentId, bodyId } = useStore(workbench.session, (session) => session);
  const garments = listGarments(editor.document);
  const garment = garments.find(({ id }) => id === garmentId) ?? garments[0];
  const { skeleton, skins } = editor.character;
  const bodySetId = garment?.bodySetId ?? listRecords(editor.document, 'bodySet')[0]?.id;
  const bodies = bodySetId ? listBodies(editor.document, bodySetId, skeleton) : [];
  const selected = bodies.find(({ id }) => id === bodyId);
  const suggest = (): void => {
    const setId = bodySetId ?? editor.ensureBodySet();
    void runPreparation(async () => {
      const suggested = await workbench.preparing.client.suggestBodies(setId);
      replaceBodies(editor, setId, suggested);
      workbench.session.set({ bodyId: null });
      toastUndo(editor, `${suggested.length} bodies were fitted to the skin`);
    });
  };
  const add = (): void => {
    const jointName = selected?.jointName ?? skeleton.names[skins[0]?.joints[0] ?? 0]!;
    const record: BodyRecord = {
      type: 'body',
      id: createId(),
      bodySetId: bodySetId ?? editor.ensureBodySet(),
      name: jointName,
      jointName,
      shape: { kind: 'capsule', a: [0, 0, 0], b: [0, -0.2, 0], radiusA: 0.06, radiusB: 0.06 },
    };
    editor.changeRecords('Add body', [[record.id, record]]);
    workbench.session.set({ bodyId: record.id });
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
      {bodies.length === 0 && (
        <p className="mt-3 text-soft">No bodies yet: the cloth passes through the character.</p>
      )}
      <ul
        className="mt-3 flex max-h-[210px] flex-col overflow-y-auto rounded-md border border-line bg-white"
        aria-label="Bodies"
      >
        {bodies.map((body) => (
          <li key={body.id}>
            <button
              type="button"
              aria-pressed={body.id === bodyId}
              className={`flex w-full items-baseline gap-2 px-2.5 py-1 text-left ${body.id === bodyId ? 'bg-teal-wash font-semibold text-teal' : 'hover:bg-paper'}`}
              onClick={() => workbench.session.set({ bodyId: body.id })}
            >
              <span className="min-w-0 flex-1 truncate">{body.jointName}</span>
              <span className="num text-xs text-soft">{describeRadii(body.shape)}</span>
            </button>
          </li>
        ))}
      </ul>
      {selected ? (
        <SelectedBody key={selected.id} body={selected} />
      ) : (
        bodies.length > 0 && (
          <p className="mt-3 text-soft">
            Click a body, here or on the character, to change it. Drag its teal ends and its white radius
            handles.
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

function describeRadii(shape: BodyShape): string {
  const radii = RADII.filter((radius) => SHAPES[shape.kind].radii[radius]);
  return `${radii.map((radius) => (100 * shape[radius]).toFixed(1)).join(' – ')} cm`;
}

function SelectedBody({ body }: { body: BodyRecord }) {
  const editor = useDocument();
  const { session } = useWorkbench();
  const { shape } = body;
  const update = (label: string, change: Partial<BodyShape>): void =>
    editor.updateRecord(
      label,
      body,
      { shape: { ...shape, ...change } },
      `body ${body.id} ${Object.keys(change).join()}`,
    );
  const mirror = (): void => {
    const message = mirrorToOtherSide(editor, body);
    if (message) toast.error(message);
  };
  const remove = (): void => {
    editor.changeRecords(`Remove body ${body.name}`, [[body.id, null]]);
    session.set({ bodyId: null });
  };
  const duplicate = (): void => {
    const copy = { ...body, id: createId() };
    editor.changeRecords('Duplicate body', [[copy.id, copy]]);
    session.set({ bodyId: copy.id });
  };
  return (
    <div className="mt-3 border-t border-line pt-3">
      <JointSelect body={body} />
      <div className="mt-2">
        <Choice
          label="Shape"
          look="cells"
          value={shape.kind}
          options={SHAPE_KINDS.map((kind) => ({ value: kind, label: SHAPES[kind].label }))}
          onChange={(kind) => update('Change shape', { kind })}
        />
      </div>
      <div className="mt-2">
        {RADII.map((radius) => {
          const label = SHAPES[shape.kind].radii[radius];
          return (
            label && (
              <Radius
                key={radius}
                label={label}
                value={shape[radius]}
                onChange={(metres) => update('Set radius', { [radius]: metres })}
              />
            )
          );
        })}
      </div>
      <Ends shape={shape} onChange={(change) => update('Move end', change)} />
      <div className="mt-3 flex gap-1.5">
        <button
          type="button"
          className="btn flex-1"
          title="Make the body of the other side the mirror of this one"
          onClick={mirror}
        >
          <FlipHorizontal2 size={14} /> Mirror
        </button>
        <button
          type="button"
          className="btn"
          aria-label="Duplicate body"
          title="Duplicate"
          onClick={duplicate}
        >
          <Copy size={14} />
        </button>
        <button type="button" className="btn" aria-label="Remove body" title="Remove" onClick={remove}>
          <Trash2 size={14} />
        </button>
      </div>
    </div>
  );
}

function JointSelect({ body }: { body: BodyRecord }) {
  const editor = useDocument();
  const { names } = editor.character.skeleton;
  const joints = [...new Set(editor.character.skins.flatMap((skin) => [...skin.joints]))].sort(
    (p, q) => p - q,
  );
  return (
    <label className="grid grid-cols-[84px_1fr] items-center">
      Joint
      <select
        className="field"
        value={body.jointName}
        onChange={(event) => {
          const jointName = event.target.value;
          editor.updateRecord('Move body to another joint', body, { jointName, name: jointName });
        }}
      >
        {joints.map((node) => (
          <option key={node} value={names[node]}>
            {names[node]}
          </option>
        ))}
      </select>
    </label>
  );
}

function Radius({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange(metres: number): void;
}) {
  return (
    <NumberRow
      label={label}
      value={100 * value}
      unit="cm"
      min={0.2}
      max={60}
      step={0.1}
      digits={1}
      isLogarithmic
      onChange={(cm) => onChange(cm / 100)}
    />
  );
}

/** Both ends in the joint's own space. */
function Ends({ shape, onChange }: { shape: BodyShape; onChange(change: Partial<BodyShape>): void }) {
  const labels = SHAPES[shape.kind].ends;
  const ends = (['a', 'b'] as const).filter((end) => labels[end]);
  return (
    <div className="mt-1">
      {ends.map((end) => (
        <div key={end} className="grid grid-cols-[84px_1fr_1fr_1fr] items-center gap-1 py-[3px]">
          <span title="In the joint's own space, cm">{labels[end]}, cm</span>
          {shape[end].map((metres, axis) => (
            <input
              key={`${end}${'xyz'[axis]}-${metres}`}
              className="field num !px-1.5 text-right text-xs"
              inputMode="decimal"
              aria-label={`${labels[end]} ${'xyz'[axis]}`}
              defaultValue={(100 * metres).toFixed(1)}
              onKeyDown={(event) => {
                event.stopPropagation();
                if (event.key === 'Enter') event.currentTarget.blur();
              }}
              onBlur={(event) => {
                const cm = Number(event.target.value.replace(',', '.'));
                if (!Number.isFinite(cm) || event.target.value === (100 * metres).toFixed(1)) {
                  event.target.value = (100 * metres).toFixed(1);
                  return;
                }
                const position = [...shape[end]] as [number, number, number];
                position[axis] = cm / 100;
                onChange({ [end]: position });
              }}
            />
          ))}
        </div>
      ))}
    </div>
  );
}

/** @returns What stood in the way, or null. */
function mirrorToOtherSide(editor: Editor, body: BodyRecord): string | null {
  const { names } = editor.character.skeleton;
  const pose = new Pose(editor.character);
  pose.setBind();
  const mirrored = mirrorBody(editor.character, pose, { ...body.shape, node: names.indexOf(body.jointName) });
  if (!mirrored)
    return `No joint is named as the other side of "${body.jointName}". Sides are found by _l and _r, left and right.`;
  const { node, ...shape } = mirrored;
  const jointName = names[node]!;
  const other = listBodies(editor.document, body.bodySetId).find((each) => each.jointName === jointName);
  const record: BodyRecord = other
    ? { ...other, shape }
    : { ...body, id: createId(), name: jointName, jointName, shape };
  editor.changeRecords(`Mirror ${body.name}`, [[record.id, record]]);
  return null;
}
