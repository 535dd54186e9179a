import { ClipboardCopy, ClipboardPaste } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import {
  computeBendingLength,
  computeElongation,
  FABRIC_DEFAULTS,
  FABRIC_PARAMETERS,
  LIBRARY_FABRICS,
} from '../../../../core/cloth/index.ts';
import {
  type FabricRecord,
  type GarmentRecord,
  getScene,
  listGarments,
} from '../../../../core/document/index.ts';
import { copyFabric, readCopiedFabric } from '../../../state/fabric-clipboard.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { countChanged, FabricRows } from '../../parts/FabricRows.tsx';
import { CompareIcon } from '../../parts/icons/ToolIcons.tsx';
import { NumberRow } from '../../parts/NumberRow.tsx';
import { ToggleChip } from '../../parts/ToggleChip.tsx';
import { FabricLibrary } from './FabricLibrary.tsx';
import { SearchCard } from './search/SearchCard.tsx';

/** Physical settings of the selected garment, and the wind. */
export function FabricPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId);
  const fabric = garment && editor.document.records.get(garment.fabricId);
  const [isSearching, setSearching] = useState(false);
  return (
    <>
      <div className="flex items-center justify-between">
        <h1 className="text-[20px] font-semibold tracking-tight">Fabric</h1>
        <span className="flex gap-1.5">
          <ToggleChip
            label="Search"
            hint="Lets the server look for better numbers"
            className="btn !px-2 data-[state=on]:bg-teal-wash"
            isOn={isSearching}
            onToggle={setSearching}
          />
          <a
            className="btn !px-2"
            href={`/characters/${workbench.info.id}/compare`}
            title="Two settings side by side"
          >
            <CompareIcon /> Compare
          </a>
        </span>
      </div>
      {isSearching && garment && <SearchCard key={garment.id} garment={garment} />}
      {garment && fabric?.type === 'fabric' ? (
        <GarmentFabric garment={garment} fabric={fabric} />
      ) : (
        <p className="mt-3 text-soft">Select or make a garment to choose its fabric.</p>
      )}
      <Wind />
    </>
  );
}

function GarmentFabric({ garment, fabric }: { garment: GarmentRecord; fabric: FabricRecord }) {
  const editor = useDocument();
  const [copied, setCopied] = useState(readCopiedFabric);
  const model = LIBRARY_FABRICS.find(({ name }) => name === fabric.name);
  const defaults = model?.settings ?? FABRIC_DEFAULTS;
  const changed = countChanged(fabric.settings, defaults);
  return (
    <>
      <div className="mt-2 flex items-center gap-1">
        <h2 className="min-w-0 flex-1 truncate">
          <b>{fabric.name}</b> {changed > 0 && <span className="text-soft">, changed</span>}
          <span className="text-soft"> on {garment.name}</span>
        </h2>
        <button
          type="button"
          className="btn !px-1.5"
          aria-label="Copy fabric"
          title="Copy fabric"
          onClick={() => {
            copyFabric(fabric);
            setCopied(readCopiedFabric());
            toast(`Copied ${fabric.name}`, { duration: 1500 });
          }}
        >
          <ClipboardCopy size={14} />
        </button>
        <button
          type="button"
          className="btn !px-1.5"
          aria-label="Paste fabric"
          disabled={!copied}
          title={copied ? `Paste ${copied.name}` : 'Copy a fabric first'}
          onClick={() => {
            // Another window may have copied since.
            const latest = readCopiedFabric();
            if (latest) editor.updateRecord(`Paste ${latest.name}`, fabric, latest);
          }}
        >
          <ClipboardPaste size={14} />
        </button>
      </div>
      <FabricLibrary
        current={fabric.name}
        onChoose={({ name, settings }) =>
          editor.updateRecord(`Choose ${name}`, fabric, { name, settings: { ...settings } })
        }
      />
      <p className="mt-1 text-xs text-soft">
        Weight of a square metre · bending length. Drag one onto a garment.
      </p>
      <FabricRows
        settings={fabric.settings}
        defaults={defaults}
        notes={{
          Cloth: <StretchNotes garment={garment} fabric={fabric} />,
          Folds: <FoldNotes garment={garment} fabric={fabric} />,
          Contact: <ContactNotes garment={garment} fabric={fabric} />,
        }}
        onChange={(key, value) =>
          editor.updateRecord(
            `Set ${FABRIC_PARAMETERS[key].label.toLowerCase()}`,
            fabric,
            // Read anew: several may be set at once.
            {
              settings: {
                ...(editor.document.records.get(fabric.id) as FabricRecord).settings,
                [key]: value,
              },
            },
            `fabric ${fabric.id} ${key}`,
          )
        }
      />
      <GarmentCloth garment={garment} />
    </>
  );
}

/** What the stiffness along the warp means for a piece that hangs, with what the mesh holds of it. */
function StretchNotes({ garment, fabric }: { garment: GarmentRecord; fabric: FabricRecord }) {
  const held = useHeld(garment, 'heldStretch');
  const { density, stretchWarp } = fabric.settings;
  const longer = computeElongation(density, stretchWarp) / held;
  return (
    <p className="mt-0.5 text-xs text-soft">
      1 m hangs <span className="num text-ink">{(1000 * longer).toFixed(1)} mm</span> longer under its weight
      {held < 0.995 && (
        <>
          ; this mesh holds <span className="num text-ink">{Math.round(100 * held)}</span> % of the stiffness
        </>
      )}
    </p>
  );
}

/** Share of a stiffness of the fabric that is felt on a garment's mesh, as the live run says. */
function useHeld(garment: GarmentRecord, of: 'heldStretch' | 'heldBend'): number {
  const { preview } = useWorkbench();
  const stats = useStore(preview.store, (state) => state.stats);
  return stats?.garments.find(({ id }) => id === garment.id)?.[of] ?? 1;
}

/** The bending length that a data sheet would give, and what the mesh cannot hold of it. */
function FoldNotes({ garment, fabric }: { garment: GarmentRecord; fabric: FabricRecord }) {
  const held = useHeld(garment, 'heldBend');
  const { density, bendStiffness } = fabric.settings;
  return (
    <>
      <p className="mt-0.5 text-xs text-soft">
        Bending length{' '}
        <span className="num text-ink">
          {(100 * computeBendingLength(density, bendStiffness)).toFixed(1)} cm
        </span>{' '}
        at this density
      </p>
      {held < 0.9 && (
        <p className="mt-1 border-l-[3px] border-marigold bg-surface px-2 py-1 text-xs">
          This mesh holds <span className="num">{Math.round(100 * held)}</span> % of the bend stiffness. More
          substeps hold more.
        </p>
      )}
    </>
  );
}

/** Self-collision keeps points off triangles: what a coarse mesh lets through, edge past edge. */
function ContactNotes({ garment, fabric }: { garment: GarmentRecord; fabric: FabricRecord }) {
  const { preview } = useWorkbench();
  const stats = useStore(preview.store, (state) => state.stats);
  const spacing = stats?.garments.find(({ id }) => id === garment.id)?.spacing ?? 0;
  const { selfDistance } = fabric.settings;
  if (selfDistance === 0 || selfDistance >= spacing / 2.5) return null;
  return (
    <p className="mt-1 border-l-[3px] border-marigold bg-surface px-2 py-1 text-xs">
      Points of this mesh lie <span className="num">{(100 * spacing).toFixed(1)} cm</span> apart: folds slip
      past each other unless self-collision keeps <span className="num">{Math.ceil(400 * spacing)} mm</span>.
    </p>
  );
}

/** What belongs to the garment rather than to its fabric. */
function GarmentCloth({ garment }: { garment: GarmentRecord }) {
  const editor = useDocument();
  const degrees = 180 / Math.PI;
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="On this garment">
      <h2 className="heading mb-0.5">On {garment.name}</h2>
      <NumberRow
        label="Warp turned"
        value={garment.warpTurn * degrees}
        unit="°"
        min={-90}
        max={90}
        step={5}
        digits={0}
        defaultValue={0}
        hint="Turns the warp against V of the UVs: 45 lays the cloth on the bias"
        onChange={(turn) =>
          editor.updateRecord('Turn the warp', garment, { warpTurn: turn / degrees }, `warp ${garment.id}`)
        }
      />
      <NumberRow
        label="Simulated"
        value={100 * garment.blend}
        unit="%"
        min={0}
        max={100}
        step={5}
        digits={0}
        defaultValue={100}
        hint="What is shown lies between the skinned garment (0) and the simulated one (100)"
        onChange={(share) =>
          editor.updateRecord('Blend with skinned', garment, { blend: share / 100 }, `blend ${garment.id}`)
        }
      />
    </section>
  );
}

function Wind() {
  const editor = useDocument();
  const scene = getScene(editor.document);
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="Wind">
      <h2 className="heading mb-0.5">Wind, on all garments</h2>
      {WIND_ROWS.map(({ key, factor, step, undo, ...row }) => (
        <NumberRow
          key={key}
          {...row}
          step={step}
          digits={step < 1 ? 1 : 0}
          value={scene[key] * factor}
          onChange={(value) => editor.updateScene(undo, { [key]: value / factor })}
        />
      ))}
    </section>
  );
}

const WIND_ROWS = [
  {
    key: 'windSpeed',
    label: 'Speed',
    unit: 'm/s',
    factor: 1,
    min: 0,
    max: 20,
    step: 0.5,
    defaultValue: 0,
    undo: 'Set the wind',
    hint: 'Mean speed of the air',
  },
  {
    key: 'windDirection',
    label: 'Blows to',
    unit: '°',
    factor: 1,
    min: -180,
    max: 180,
    step: 5,
    defaultValue: 180,
    undo: 'Turn the wind',
    hint: '0: the way the character faces; 90: to its left; 180: backwards',
  },
  {
    key: 'windGusts',
    label: 'Gusts',
    unit: '%',
    factor: 100,
    min: 0,
    max: 100,
    step: 5,
    defaultValue: 40,
    undo: 'Set the gusts',
    hint: 'How much the speed comes and goes: 0 is steady, 100 from calm to double',
  },
  {
    key: 'windTurbulence',
    label: 'Turbulence',
    unit: '%',
    factor: 100,
    min: 0,
    max: 100,
    step: 5,
    defaultValue: 30,
    undo: 'Set the turbulence',
    hint: 'Speed of the eddies, against the mean speed',
  },
] as const;
