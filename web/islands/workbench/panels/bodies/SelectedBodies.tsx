import { ClipboardCopy, Copy, FlipHorizontal2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import {
  type BodyShape,
  carryToJoint,
  convertShape,
  MOST_HULL_VERTICES,
  SHAPE_KINDS,
  SHAPES,
} from '../../../../../core/bodies/index.ts';
import {
  type AuthoredRecord,
  type BodyRecord,
  fitToSkin,
  GROUP_COUNT,
  listBodySections,
  type MirroredBody,
  mirrorBodies,
  type RecordId,
} from '../../../../../core/document/index.ts';
import { Pose } from '../../../../../core/rig/index.ts';
import { copyBodies } from '../../../../state/body-clipboard.ts';
import { createId } from '../../../../state/editor.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { IconButton } from '../../../parts/IconButton.tsx';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { GroupRow } from './GroupRow.tsx';
import { MarginRow } from './MarginRow.tsx';
import { MirrorNames } from './MirrorNames.tsx';
import { PickSkin } from './PickSkin.tsx';
import { ShapeNumbers } from './ShapeNumbers.tsx';

export interface SelectedBodiesProps {
  /** At least one. */
  bodies: readonly BodyRecord[];
}

/** What is selected: one with all its numbers, or several with what they share. */
export function SelectedBodies({ bodies }: SelectedBodiesProps) {
  const editor = useDocument();
  const workbench = useWorkbench();
  const { session } = workbench;
  const [first] = bodies as [BodyRecord];
  const isOne = bodies.length === 1;
  const change = (label: string, edit: (body: BodyRecord) => BodyRecord, key?: string): void =>
    editor.changeRecords(
      label,
      bodies.map((body): [RecordId, AuthoredRecord] => [body.id, edit(body)]),
      key && `bodies ${bodies.map(({ id }) => id).join()} ${key}`,
    );
  const setShape = (shape: BodyShape, field: string): void =>
    change('Change shape', (body) => ({ ...body, shape }), field);
  const mirror = (): void => {
    const mirrored = mirrorBodies(editor.document, editor.character, bodies, createId);
    editor.changeRecords(
      isOne ? `Mirror ${first.name}` : `Mirror ${bodies.length} bodies`,
      mirrored.map(({ to }): [RecordId, AuthoredRecord] => [to.id, to]),
    );
    toastUndo(editor, tellMirrored(mirrored));
  };
  const [hullVertices, setHullVertices] = useState(16);
  const fit = (): void => {
    try {
      change('Fit to skin', (body) => ({
        ...body,
        shape: fitToSkin(editor.document, editor.character, body, hullVertices),
      }));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      toast.error(error.message);
    }
  };
  const pick = useStore(session, (state) => state.pick);
  const pickSkin = (): void => {
    const [section] = listBodySections(editor.document, editor.character);
    if (section === undefined) toast.error('The character has no skin beside its garments to pick from.');
    else workbench.pickFaces(section, 'fit');
  };
  const remove = (): void => {
    editor.changeRecords(
      isOne ? `Remove body ${first.name}` : `Remove ${bodies.length} bodies`,
      bodies.map(({ id }): [RecordId, null] => [id, null]),
    );
    session.set({ bodyIds: [] });
  };
  const copy = (): void => {
    const set = editor.document.records.get(first.bodySetId);
    if (set?.type !== 'bodySet') return;
    copyBodies(
      editor,
      set,
      bodies.map(({ id }) => id),
    );
    toast(isOne ? `${first.name} was copied` : `${bodies.length} bodies were copied`);
  };
  const duplicate = (): void => {
    const copies = bodies.map((body) => ({ ...body, id: createId() }));
    editor.changeRecords(
      isOne ? 'Duplicate body' : 'Duplicate bodies',
      copies.map((copy): [RecordId, AuthoredRecord] => [copy.id, copy]),
    );
    session.set({ bodyIds: copies.map(({ id }) => id) });
  };
  return (
    <div className="mt-3 border-t border-line pt-3">
      {isOne ? <JointSelect body={first} /> : <h2 className="font-semibold">{bodies.length} bodies</h2>}
      <div className="mt-2">
        <Choice
          label="Shape"
          look="cells"
          columns={3}
          value={bodies.every(({ shape }) => shape.kind === first.shape.kind) ? first.shape.kind : null}
          options={SHAPE_KINDS.map((kind) => ({ value: kind, label: SHAPES[kind].label }))}
          onChange={(kind) =>
            change('Change shape', (body) => ({ ...body, shape: convertShape(body.shape, kind) }))
          }
        />
      </div>
      {isOne && <ShapeNumbers shape={first.shape} onChange={setShape} />}
      <MarginRow
        hint="Added to the shape all around"
        margin={first.margin}
        onChange={(margin) => change('Set margin', (body) => ({ ...body, margin }), 'margin')}
      />
      <GroupRow
        group={first.group}
        count={GROUP_COUNT}
        onChange={(group) => change('Set collision group', (body) => ({ ...body, group }))}
      />
      {first.shape.kind === 'hull' && (
        <NumberRow
          label="Vertices"
          hint="Of the hull when it is fitted to the skin"
          value={hullVertices}
          unit=""
          min={4}
          max={MOST_HULL_VERTICES}
          step={1}
          digits={0}
          onChange={(value) => setHullVertices(Math.round(value))}
        />
      )}
      <div className="mt-3 flex gap-1">
        <button
          type="button"
          className="btn min-w-0 flex-1 !px-1.5 whitespace-nowrap"
          title="Fit the shape anew to the skin that its joint moves most"
          onClick={fit}
        >
          Fit to skin
        </button>
        <button
          type="button"
          className="btn min-w-0 flex-1 !px-1.5 whitespace-nowrap"
          title="Make the bodies of the other side the mirror of these"
          onClick={mirror}
        >
          <FlipHorizontal2 size={14} /> Mirror
        </button>
        <IconButton
          label="Duplicate body"
          title="Duplicate"
          icon={<Copy size={14} />}
          className="!px-2"
          onClick={duplicate}
        />
        <IconButton
          label="Copy bodies"
          title="Copy for pasting, on another character too"
          icon={<ClipboardCopy size={14} />}
          className="!px-2"
          onClick={copy}
        />
        <IconButton
          label="Remove body"
          title="Remove"
          icon={<Trash2 size={14} />}
          className="!px-2"
          onClick={remove}
        />
      </div>
      {isOne && pick === null && (
        <button type="button" className="mt-1.5 text-xs text-teal underline" onClick={pickSkin}>
          Fit to skin that I pick
        </button>
      )}
      {isOne && <PickSkin body={first} hullVertices={hullVertices} />}
      <MirrorNames bodies={bodies} />
    </div>
  );
}

function JointSelect({ body }: { body: BodyRecord }) {
  const editor = useDocument();
  const { names } = editor.character.skeleton;
  const joints = [...new Set(editor.character.skins.flatMap((skin) => [...skin.joints]))].sort(
    (p, q) => p - q,
  );
  const move = (jointName: string): void => {
    const pose = new Pose(editor.character);
    pose.setBind();
    const placed = { ...body.shape, node: names.indexOf(body.jointName) };
    const carried = carryToJoint(pose, placed, names.indexOf(jointName));
    if (!carried) return;
    const { node: _node, ...shape } = carried;
    const name = body.name === body.jointName ? jointName : body.name;
    editor.updateRecord('Move body to another joint', body, { jointName, name, shape });
  };
  return (
    <label
      className="grid grid-cols-[84px_1fr] items-center"
      title="Joint that carries the body; another one takes it over where it is in bind pose"
    >
      Joint
      <select className="field" value={body.jointName} onChange={(event) => move(event.target.value)}>
        {joints.map((node) => (
          <option key={node} value={names[node]}>
            {names[node]}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Which became which: what pairs by name is seen at once. */
function tellMirrored(mirrored: readonly MirroredBody[]): string {
  const pairs = mirrored.map(({ from, to, isNew }) => `${from.name} → ${to.name}${isNew ? ' (new)' : ''}`);
  return `Mirrored ${pairs.join(', ')}`;
}
