import { Copy, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import {
  type AuthoredRecord,
  BODY_SET_DEFAULTS,
  type BodySetRecord,
  countBodies,
  type GarmentRecord,
  listBodies,
  listBodyMeshes,
  listGarments,
  listRecords,
  type RecordId,
} from '../../../../../core/document/index.ts';
import type { BodyMeshes } from '../../../../state/body-meshes.ts';
import { createId, type Editor } from '../../../../state/editor.ts';
import { runPreparation } from '../../../../state/run-preparation.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { IconButton } from '../../../parts/IconButton.tsx';
import { NameEditor } from '../../../parts/NameEditor.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { ImportSet } from './ImportSet.tsx';

export interface SetRowProps {
  garment: GarmentRecord;
}

/** The body set of a garment: another one is chosen, made, duplicated, renamed or removed. */
export function SetRow({ garment }: SetRowProps) {
  const editor = useDocument();
  const { preparing } = useWorkbench();
  const [isNaming, setNaming] = useState(false);
  const sets = listRecords(editor.document, 'bodySet').sort((p, q) =>
    p.name.localeCompare(q.name, 'en', { numeric: true }),
  );
  const set = sets.find(({ id }) => id === garment.bodySetId);
  const wearers = listGarments(editor.document).filter(({ bodySetId }) => bodySetId === garment.bodySetId);
  const use = (bodySetId: RecordId): void => editor.updateRecord('Choose body set', garment, { bodySetId });
  if (!set) return null;
  return (
    <div className="mt-3">
      <div className="flex items-center gap-1.5">
        <select
          className="field min-w-0 flex-1"
          aria-label="Body set"
          title={`Body set of ${garment.name}`}
          value={set.id}
          onChange={(event) => use(event.target.value as RecordId)}
        >
          {sets.map(({ id, name }) => (
            <option key={id} value={id}>
              {name} ({countBodies(editor.document, id)})
            </option>
          ))}
        </select>
        <IconButton
          label="New body set"
          title={`New empty set for ${garment.name}`}
          icon={<Plus size={14} />}
          onClick={() => addSet(editor, garment, null)}
        />
        <IconButton
          label="Duplicate body set"
          title={`Duplicate the set for ${garment.name}`}
          icon={<Copy size={14} />}
          onClick={() => addSet(editor, garment, set)}
        />
        <IconButton
          label="Remove body set"
          isDisabled={sets.length < 2}
          title={
            sets.length < 2
              ? 'A character keeps one set at least'
              : 'Remove the set; garments go to another one'
          }
          icon={<Trash2 size={14} />}
          onClick={() => void removeSet(editor, preparing.bodyMeshes, set, sets)}
        />
      </div>
      <div className="mt-1 flex flex-wrap items-baseline gap-2 text-xs text-soft">
        {isNaming ? (
          <NameEditor
            name={set.name}
            label="Name of the body set"
            onDone={(name) => {
              setNaming(false);
              if (name) editor.updateRecord('Rename body set', set, { name });
            }}
          />
        ) : (
          <button type="button" className="underline" onClick={() => setNaming(true)}>
            Rename
          </button>
        )}
        <ImportSet garment={garment} set={set} />
        <span
          className="min-w-0 flex-1 truncate text-right"
          title={`Used by ${wearers.map(({ name }) => name).join(', ')}`}
        >
          {wearers.length === 1 ? `used by ${wearers[0]!.name}` : `${wearers.length} garments`}
        </span>
      </div>
    </div>
  );
}

/** A new set for a garment, empty or with copies of the bodies of another. */
function addSet(editor: Editor, garment: GarmentRecord, source: BodySetRecord | null): void {
  const { document } = editor;
  const names = new Set(listRecords(document, 'bodySet').map(({ name }) => name));
  const base = source?.name.replace(/ \d+$/, '') ?? 'Set';
  let number = 2;
  while (names.has(`${base} ${number}`)) number++;
  const set: BodySetRecord = {
    type: 'bodySet',
    id: createId(),
    name: `${base} ${number}`,
    ...BODY_SET_DEFAULTS,
  };
  const bodies = source ? [...listBodies(document, source.id), ...listBodyMeshes(document, source.id)] : [];
  editor.changeRecords(source ? `Duplicate body set ${source.name}` : 'Add a body set', [
    [set.id, set],
    ...bodies.map((body): [RecordId, AuthoredRecord] => {
      const copy = { ...body, id: createId(), bodySetId: set.id };
      return [copy.id, copy];
    }),
    [garment.id, { ...garment, bodySetId: set.id }],
  ]);
}

/** Removes a set with its bodies and meshes; what used it uses the first of the others. */
async function removeSet(
  editor: Editor,
  meshes: BodyMeshes,
  set: BodySetRecord,
  sets: readonly BodySetRecord[],
): Promise<void> {
  const { document } = editor;
  const other = sets.find(({ id }) => id !== set.id)!;
  const isDone = await runPreparation(() =>
    meshes.replace(`Remove body set ${set.name}`, listBodyMeshes(document, set.id), [
      ...listGarments(document)
        .filter(({ bodySetId }) => bodySetId === set.id)
        .map((garment): [RecordId, AuthoredRecord] => [garment.id, { ...garment, bodySetId: other.id }]),
      ...listBodies(document, set.id).map(({ id }): [RecordId, null] => [id, null]),
      [set.id, null],
    ]),
  );
  if (isDone) toastUndo(editor, `Set ${set.name} was removed; its garments use ${other.name}`);
}
