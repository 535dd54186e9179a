import {
  FABRIC_DEFAULTS,
  FABRIC_RANGES,
  type FabricSettings,
  STARTER_FABRICS,
} from '../../../../core/cloth/index.ts';
import { type FabricRecord, getScene, listGarments } from '../../../../core/document/index.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { NumberRow, type NumberRowProps } from '../../parts/NumberRow.tsx';

type Row = Pick<NumberRowProps, 'label' | 'unit' | 'step' | 'digits' | 'hint' | 'isLogarithmic'> & {
  key: keyof FabricSettings;
  /** Shown value over stored value. */
  factor: number;
};

/** In the units that an artist thinks in. */
const ROWS: readonly { title: string; rows: readonly Row[] }[] = [
  {
    title: 'Cloth',
    rows: [
      {
        key: 'density',
        label: 'Density',
        unit: 'g/m²',
        factor: 1000,
        step: 5,
        digits: 0,
        isLogarithmic: true,
        hint: 'Weight of a square metre: heavier cloth swings slower and is moved less by air',
      },
      {
        key: 'stretchStiffness',
        label: 'Stretch',
        unit: 'N/m',
        factor: 1,
        step: 50,
        digits: 0,
        isLogarithmic: true,
        hint: 'Resistance to getting longer',
      },
      {
        key: 'bendStiffness',
        label: 'Bend',
        unit: 'µN·m',
        factor: 1e6,
        step: 1,
        digits: 0,
        isLogarithmic: true,
        hint: 'Resistance to folding: small hangs soft, large stands off',
      },
    ],
  },
  {
    title: 'Motion',
    rows: [
      {
        key: 'damping',
        label: 'Damping',
        unit: '1/s',
        factor: 1,
        step: 0.1,
        digits: 1,
        hint: 'How fast all motion dies away',
      },
      {
        key: 'airDrag',
        label: 'Air drag',
        unit: '',
        factor: 1,
        step: 0.05,
        digits: 2,
        hint: 'How much of the air a face catches',
      },
      {
        key: 'gravityScale',
        label: 'Gravity',
        unit: '×',
        factor: 1,
        step: 0.05,
        digits: 2,
        hint: 'Factor on gravity',
      },
    ],
  },
  {
    title: 'Contact',
    rows: [
      {
        key: 'thickness',
        label: 'Thickness',
        unit: 'mm',
        factor: 1000,
        step: 0.5,
        digits: 1,
        hint: 'Distance kept from bodies',
      },
      {
        key: 'friction',
        label: 'Friction',
        unit: '',
        factor: 1,
        step: 0.05,
        digits: 2,
        hint: 'Against bodies: 0 slides off, 1 holds',
      },
    ],
  },
  {
    title: 'Solver',
    rows: [
      {
        key: 'substeps',
        label: 'Substeps',
        unit: '',
        factor: 1,
        step: 1,
        digits: 0,
        hint: 'Steps in each frame: more is stiffer and costs as much more',
      },
    ],
  },
];

/** Physical settings of the selected garment, and the wind. */
export function FabricPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId);
  const fabric = garment && editor.document.records.get(garment.fabricId);
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">
        Fabric {garment && <span className="ml-1 text-sm font-normal text-soft">of {garment.name}</span>}
      </h1>
      {fabric?.type === 'fabric' ? (
        <FabricSettingsForm fabric={fabric} />
      ) : (
        <p className="mt-2 text-soft">Select or make a garment to choose its fabric.</p>
      )}
      <Wind />
    </>
  );
}

function FabricSettingsForm({ fabric }: { fabric: FabricRecord }) {
  const editor = useDocument();
  const starter = STARTER_FABRICS.find(({ name }) => name === fabric.name);
  const defaults = starter?.settings ?? FABRIC_DEFAULTS;
  const set = (row: Row, shown: number): void => {
    const value = row.key === 'substeps' ? Math.round(shown) : shown / row.factor;
    const [least, most] = FABRIC_RANGES[row.key];
    const settings = { ...fabric.settings, [row.key]: Math.min(most, Math.max(least, value)) };
    editor.updateRecord(
      `Set ${row.label.toLowerCase()}`,
      fabric,
      { settings },
      `fabric ${fabric.id} ${row.key}`,
    );
  };
  return (
    <>
      <div className="mt-3 flex flex-col gap-1.5" role="radiogroup" aria-label="Fabric">
        {STARTER_FABRICS.map(({ name, note, settings }) => (
          <button
            type="button"
            key={name}
            role="radio"
            aria-checked={name === fabric.name}
            className={`card px-2.5 py-1.5 text-left ${name === fabric.name ? '!border-teal bg-teal-wash' : ''}`}
            onClick={() => editor.updateRecord(`Choose ${name}`, fabric, { name, settings: { ...settings } })}
          >
            <span className="block font-semibold">{name}</span>
            <span className="text-xs text-soft">{note}</span>
          </button>
        ))}
      </div>
      {ROWS.map(({ title, rows }) => (
        <div key={title} className="mt-3">
          <h2 className="heading mb-0.5">{title}</h2>
          {rows.map((row) => {
            const [least, most] = FABRIC_RANGES[row.key];
            const { key, factor, ...look } = row;
            return (
              <NumberRow
                key={key}
                {...look}
                value={fabric.settings[key] * factor}
                defaultValue={defaults[key] * factor}
                min={least * factor}
                max={most * factor}
                onChange={(shown) => set(row, shown)}
              />
            );
          })}
        </div>
      ))}
    </>
  );
}

function Wind() {
  const editor = useDocument();
  const { windSpeed, windDirection } = getScene(editor.document);
  return (
    <div className="mt-4 border-t border-line pt-3">
      <h2 className="heading mb-0.5">Wind, on all garments</h2>
      <NumberRow
        label="Speed"
        value={windSpeed}
        unit="m/s"
        min={0}
        max={20}
        step={0.5}
        digits={1}
        defaultValue={0}
        onChange={(speed) => editor.updateScene('Set the wind', { windSpeed: speed })}
      />
      <NumberRow
        label="Blows to"
        value={windDirection}
        unit="°"
        min={-180}
        max={180}
        step={5}
        digits={0}
        defaultValue={180}
        hint="0: the way the character faces; 90: to its left; 180: backwards"
        onChange={(direction) => editor.updateScene('Turn the wind', { windDirection: direction })}
      />
    </div>
  );
}
