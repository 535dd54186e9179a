import { useRef, useState } from 'react';
import { toast } from 'sonner';
import {
  type AuthoredRecord,
  BodySetError,
  type BodySetFile,
  type BodySetRecord,
  type GarmentRecord,
  listBodyMeshes,
  listRecords,
  type PlacedBody,
  parseBodySet,
  placeBodySet,
  type RecordId,
  toSetRecords,
  writeBodySet,
} from '../../../../../core/document/index.ts';
import { createId, type Editor } from '../../../../state/editor.ts';
import { saveFile } from '../../../../state/save-file.ts';
import { useDocument } from '../../../../state/workbench.ts';
import { toastUndo } from '../../../parts/toast-undo.ts';

export interface ImportSetProps {
  garment: GarmentRecord;
  set: BodySetRecord;
}

interface Review {
  file: BodySetFile;
  placed: readonly PlacedBody[];
}

/** Sends a set out as a file, and takes one in after a look at what fits this character. */
export function ImportSet({ garment, set }: ImportSetProps) {
  const editor = useDocument();
  const input = useRef<HTMLInputElement>(null);
  const [review, setReview] = useState<Review | null>(null);
  const send = (): void => {
    const text = JSON.stringify(writeBodySet(editor.document, editor.character, set), null, 2);
    const meshes = listBodyMeshes(editor.document, set.id);
    if (meshes.length > 0)
      toast(`${meshes.map(({ name }) => name).join(', ')}: made over this character, not in the file.`);
    saveFile(new TextEncoder().encode(text), `${set.name} bodies.json`, 'application/json');
  };
  const read = async (file: File): Promise<void> => {
    try {
      const parsed = parseBodySet(await file.text());
      setReview({ file: parsed, placed: placeBodySet(parsed, editor.character) });
    } catch (error) {
      if (!(error instanceof BodySetError)) throw error;
      toast.error(`${file.name}: ${error.message}`);
    }
  };
  return (
    <>
      <button type="button" className="underline" title="As JSON, for another character" onClick={send}>
        Export
      </button>
      <button
        type="button"
        className="underline"
        title="From JSON, onto joints of the same names"
        onClick={() => input.current?.click()}
      >
        Import
      </button>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        className="hidden"
        aria-label="File with a body set"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void read(file);
          event.target.value = '';
        }}
      />
      {review && (
        <ReviewCard
          review={review}
          onClose={() => setReview(null)}
          onUse={() => {
            addImported(editor, garment, review);
            setReview(null);
          }}
        />
      )}
    </>
  );
}

interface ReviewCardProps {
  review: Review;
  onUse(): void;
  onClose(): void;
}

/** What comes onto which joint, what is scaled, and what is left out. */
function ReviewCard({ review: { file, placed }, onUse, onClose }: ReviewCardProps) {
  const found = placed.filter(({ body }) => body);
  const lost = placed.filter(({ body }) => !body);
  const renamed = found.filter(({ joint, onto }) => joint !== onto);
  const scaled = found.filter(({ scale }) => scale !== 1);
  return (
    <section
      className="card w-full basis-full p-2.5 text-left text-sm text-ink"
      aria-label="Body set to import"
    >
      <h3 className="font-semibold">
        {file.name}: {found.length} of {placed.length} bodies fit
      </h3>
      {lost.length > 0 && (
        <Line
          label="No such joint here, left out"
          items={lost.map(({ name, joint }) => (name === joint ? joint : `${name} (${joint})`))}
        />
      )}
      {renamed.length > 0 && (
        <Line label="Joints of like names" items={renamed.map(({ joint, onto }) => `${joint} → ${onto}`)} />
      )}
      {scaled.length > 0 && (
        <Line
          label="Scaled by the length of the bone"
          items={scaled.map(({ name, scale }) => `${name} × ${scale.toFixed(2)}`)}
        />
      )}
      <div className="mt-2 flex gap-1.5">
        <button type="button" className="btn btn-main flex-1" disabled={found.length === 0} onClick={onUse}>
          Add as a new set
        </button>
        <button type="button" className="btn" onClick={onClose}>
          Cancel
        </button>
      </div>
    </section>
  );
}

function Line({ label, items }: { label: string; items: readonly string[] }) {
  return (
    <p className="mt-1.5 text-xs">
      <span className="text-soft">{label}: </span>
      {items.join(', ')}
    </p>
  );
}

/** The set with its bodies, used by the garment, as one step. */
function addImported(editor: Editor, garment: GarmentRecord, { file, placed }: Review): void {
  const names = new Set(listRecords(editor.document, 'bodySet').map(({ name }) => name));
  let name = file.name;
  for (let number = 2; names.has(name); number++) name = `${file.name} ${number}`;
  const { follows } = file;
  const set: BodySetRecord = { type: 'bodySet', id: createId(), name, follows };
  const bodies = toSetRecords(placed, set.id, createId);
  editor.changeRecords(`Import body set ${name}`, [
    [set.id, set],
    ...bodies.map((body): [RecordId, AuthoredRecord] => [body.id, body]),
    [garment.id, { ...garment, bodySetId: set.id }],
  ]);
  toastUndo(editor, `${garment.name} uses the imported set ${name}`);
}
