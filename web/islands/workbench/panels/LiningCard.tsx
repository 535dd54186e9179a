import { useState } from 'react';
import { findChannel, type GarmentRecord, type StepRecord } from '../../../../core/document/index.ts';
import { tellVertices } from '../../../../core/math/index.ts';
import type { RimShape } from '../../../../core/steps/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberRow } from '../../parts/NumberRow.tsx';

const THICKNESS = 0.003;

export interface LiningCardProps {
  garment: GarmentRecord;
}

/** Of a garment with two sides: whether the inner one is simulated too. Of one with a single side: an inner one made. */
export function LiningCard({ garment }: LiningCardProps) {
  const { innerSides, preparing } = useWorkbench();
  const editor = useDocument();
  useStore(innerSides.store, (state) => state.known);
  const inner = innerSides.get(garment.renders[0] ?? garment);
  if (!inner) return null;
  const count = inner.reduce((sum, one) => sum + one, 0);
  const made = preparing.findInside(garment);
  if (count === 0) return <InsideMaker garment={garment} made={null} />;
  const isRiding = garment.lining === 'inside';
  return (
    <>
      {garment.renders.length === 0 && (
        <label
          className="mt-2 flex items-start gap-1.5"
          title="The inner layer of a two-sided garment, its lining, rides on the outer one: half the vertices to simulate, and nothing comes through"
        >
          <input
            type="checkbox"
            className="mt-0.5 accent-teal"
            checked={isRiding}
            onChange={() =>
              editor.updateRecord(
                isRiding ? 'Simulate the inner layer too' : 'Inner layer follows outer layer',
                garment,
                {
                  lining: isRiding ? 'none' : 'inside',
                },
              )
            }
          />
          Inner layer ({tellVertices(count)}) follows the outer layer
        </label>
      )}
      {made && <InsideMaker garment={garment} made={made} />}
    </>
  );
}

interface InsideMakerProps extends LiningCardProps {
  /** The step that made the inside; null: there is none yet. */
  made: StepRecord | null;
}

function InsideMaker({ garment, made }: InsideMakerProps) {
  const { preparing } = useWorkbench();
  const editor = useDocument();
  const act = made?.act.kind === 'thicken' ? made.act : null;
  // What the controls were set to, until it is made; at rest they show what is there, taken back or not.
  const [wished, setWished] = useState<{ thickness: number; rim: RimShape } | null>(null);
  const { thickness, rim } = wished ?? act ?? { thickness: THICKNESS, rim: 'rounded' };
  const make = async (): Promise<void> => {
    if (await runPreparation(() => preparing.thicken(garment, thickness, rim))) setWished(null);
  };
  const [hasThickness, hasEdge] = (['thickness', 'roundedEdge'] as const).map(
    (kind) => findChannel(editor.document, garment.id, kind) !== null,
  );
  return (
    <details className="mt-2">
      <summary className="cursor-pointer font-semibold">{made ? 'Inner layer' : 'Add inner layer'}</summary>
      {hasThickness ? (
        <p className="mt-1 text-xs text-soft">As thick as its map of Thickness says.</p>
      ) : (
        <NumberRow
          label="Thickness"
          value={1000 * thickness}
          unit="mm"
          min={0.5}
          max={50}
          step={0.5}
          digits={1}
          defaultValue={1000 * THICKNESS}
          isLogarithmic
          onChange={(mm) => setWished({ rim, thickness: mm / 1000 })}
        />
      )}
      <div className="mt-1 flex items-center gap-1.5">
        {hasEdge ? (
          <span className="text-xs text-soft">Edges as its map of Rounded edge says.</span>
        ) : (
          <>
            <span className="text-soft">Edge</span>
            <Choice
              label="Edge"
              value={rim}
              options={[
                { value: 'rounded', label: 'Rounded' },
                { value: 'square', label: 'Square' },
              ]}
              onChange={(next) => setWished({ thickness, rim: next as RimShape })}
            />
          </>
        )}
      </div>
      <button
        type="button"
        className="btn mt-1.5"
        title="A layer behind the outer one, which it follows"
        onClick={() => void make()}
      >
        {made ? 'Make anew' : 'Make'}
      </button>
      {!(hasThickness && hasEdge) && (
        <p className="mt-1 text-xs text-soft">
          By region: paint the channels Thickness and Rounded edge in Reach, then make it.
        </p>
      )}
    </details>
  );
}
