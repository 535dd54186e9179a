import { useState } from 'react';
import { toast } from 'sonner';
import { type GarmentRecord, listSteps } from '../../../../core/document/index.ts';
import type { FitWork } from '../../../state/fit-work.ts';
import { keepDrape } from '../../../state/keep-drape.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberRow } from '../../parts/NumberRow.tsx';
import { PercentRow } from '../../parts/PercentRow.tsx';
import { SizeRow } from '../../parts/SizeRow.tsx';
import { EditsDone } from './EditsDone.tsx';

/** Typical distance of cloth from skin, m. */
const PUSH_OFFSET = 0.004;
/** Kinds of steps that change the shape, and that a reset takes away. */
const SHAPE_KINDS: ReadonlySet<string> = new Set(['movePoints', 'pushOut']);

export interface FitCardProps {
  garment: GarmentRecord;
}

/** The shape of a garment on the body: drawn and smoothed by hand, pushed out, or taken from how it falls. */
export function FitCard({ garment }: FitCardProps) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const [offset, setOffset] = useState(PUSH_OFFSET);
  const hand = useStore(workbench.session, (session) => session.hand);
  const drapedId = useStore(workbench.session, (session) => session.drapedId);
  const section = garment.renders[0] ?? garment;
  const name = { sectionIndex: section.sectionIndex, sectionName: section.sectionName };
  const simulated = garment.renders.length > 0 ? garment : null;
  if (drapedId === garment.id) return <DrapeControls garment={garment} />;
  if (hand?.kind === 'fit') return <ShapeControls work={hand} />;
  const shaped = listSteps(editor.document).filter(
    ({ act, sectionName }) =>
      SHAPE_KINDS.has(act.kind) && (sectionName === name.sectionName || sectionName === garment.sectionName),
  );
  return (
    <>
      <NumberRow
        label="Clearance from body"
        value={1000 * offset}
        unit="mm"
        min={0}
        max={50}
        step={0.5}
        digits={1}
        defaultValue={1000 * PUSH_OFFSET}
        hint="What lies in the body, or closer to it than this, is pushed out to it."
        onChange={(mm) => setOffset(mm / 1000)}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        <button
          type="button"
          className="btn"
          onClick={() =>
            void runPreparation(() =>
              workbench.preparing.addStep(`Push out ${name.sectionName}`, name, { kind: 'pushOut', offset }),
            )
          }
        >
          Push out
        </button>
        <button type="button" className="btn" onClick={() => workbench.shape(name, simulated)}>
          Shape by hand
        </button>
        <button
          type="button"
          className="btn"
          title="Lets it fall over the body in bind pose, to take the shape that it comes to rest in"
          onClick={() => workbench.drape(garment.id)}
        >
          Drape
        </button>
        {shaped.length > 0 && (
          <button
            type="button"
            className="btn"
            title="As the file has it; other steps stay"
            onClick={() =>
              void runPreparation(() =>
                workbench.preparing.removeSteps(`Reset the shape of ${garment.name}`, name, shaped),
              )
            }
          >
            Reset shape
          </button>
        )}
      </div>
    </>
  );
}

function ShapeControls({ work }: { work: FitWork }) {
  const state = useStore(work.store, (settings) => settings);
  const set = (update: Partial<typeof state>): void => work.store.set(update);
  return (
    <div>
      <Choice
        label="Tool"
        value={state.tool}
        options={[
          { value: 'pull', label: 'Pull' },
          { value: 'smooth', label: 'Smooth' },
        ]}
        onChange={(tool) => set({ tool })}
      />
      <p className="mt-1 text-xs text-soft">
        In bind pose, unsimulated. What is held is measured along the cloth, so folds behind stay.
      </p>
      <SizeRow label="Reach" value={state.radius} most={100} onChange={(radius) => set({ radius })} />
      {state.tool === 'smooth' && (
        <PercentRow label="Strength" value={state.strength} onChange={(strength) => set({ strength })} />
      )}
      <LengthsBox work={work} />
      <EditsDone work={work} />
    </div>
  );
}

function LengthsBox({ work }: { work: FitWork }) {
  const keepsLengths = useStore(work.store, (settings) => settings.keepsLengths);
  return (
    <label
      className="mt-1 flex items-start gap-1.5"
      title="Without it, the new shape is the one in which the cloth is at rest"
    >
      <input
        type="checkbox"
        className="mt-0.5 accent-teal"
        checked={keepsLengths}
        onChange={() => work.store.set({ keepsLengths: !keepsLengths })}
      />
      Keep the cloth's lengths at rest
    </label>
  );
}

/** While a garment falls: what it looks like now can be taken as its shape. */
function DrapeControls({ garment }: FitCardProps) {
  const workbench = useWorkbench();
  const [keepsLengths, setKeepsLengths] = useState(true);
  const keep = (): void =>
    void runPreparation(async () => {
      await keepDrape(workbench, garment.id, keepsLengths);
      workbench.endEdits();
      toast(`${garment.name} has the shape that it fell into.`, { duration: 2500 });
    });
  return (
    <div>
      <p className="text-xs text-soft">
        It falls over the body in bind pose; pull it with the mouse. Held vertices stay; when all are held,
        none is.
      </p>
      <label className="mt-1 flex items-start gap-1.5">
        <input
          type="checkbox"
          className="mt-0.5 accent-teal"
          checked={keepsLengths}
          onChange={() => setKeepsLengths(!keepsLengths)}
        />
        Keep the cloth's lengths at rest
      </label>
      <div className="mt-2 flex gap-1.5">
        <button type="button" className="btn btn-main" onClick={keep}>
          Keep this shape
        </button>
        <button type="button" className="btn" onClick={() => workbench.endEdits()}>
          Leave
        </button>
      </div>
    </div>
  );
}
