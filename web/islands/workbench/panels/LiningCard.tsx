import { useState } from 'react';
import type { GarmentRecord } from '../../../../core/document/index.ts';
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
  const { innerSides } = useWorkbench();
  const editor = useDocument();
  useStore(innerSides.store, (state) => state.known);
  const inner = innerSides.get(garment.renders[0] ?? garment);
  if (!inner) return null;
  const count = inner.reduce((sum, one) => sum + one, 0);
  if (count === 0) return <InsideMaker garment={garment} />;
  if (garment.renders.length > 0) return null;
  const isRiding = garment.lining === 'inside';
  return (
    <label
      className="mt-2 flex items-start gap-1.5"
      title="Half the points to simulate, and nothing comes through"
    >
      <input
        type="checkbox"
        className="mt-0.5 accent-teal"
        checked={isRiding}
        onChange={() =>
          editor.updateRecord(isRiding ? 'Simulate the inside too' : 'Let the inside ride', garment, {
            lining: isRiding ? 'none' : 'inside',
          })
        }
      />
      The inside ({count.toLocaleString('en')} points) rides on the outside
    </label>
  );
}

function InsideMaker({ garment }: { garment: GarmentRecord }) {
  const { preparing } = useWorkbench();
  const [thickness, setThickness] = useState(THICKNESS);
  const [rim, setRim] = useState<RimShape>('rounded');
  return (
    <details className="mt-2">
      <summary className="cursor-pointer font-semibold">Give it an inside</summary>
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
        onChange={(mm) => setThickness(mm / 1000)}
      />
      <div className="mt-1 flex items-center gap-1.5">
        <span className="text-soft">Edge</span>
        <Choice
          label="Edge"
          value={rim}
          options={[
            { value: 'rounded', label: 'Rounded' },
            { value: 'square', label: 'Square' },
          ]}
          onChange={(next) => setRim(next as RimShape)}
        />
        <button
          type="button"
          className="btn ml-auto"
          title="An inner side behind the outer one, which it rides on"
          onClick={() => void runPreparation(() => preparing.thicken(garment, thickness, rim))}
        >
          Make
        </button>
      </div>
    </details>
  );
}
