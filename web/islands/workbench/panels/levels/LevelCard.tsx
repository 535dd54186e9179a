import { Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import { FABRIC_DEFAULTS } from '../../../../../core/cloth/index.ts';
import {
  type GarmentLevel,
  type GarmentRecord,
  LEVEL_EDGES,
  LEVEL_PIXELS,
  LEVEL_SUBSTEPS,
  type LevelRate,
} from '../../../../../core/document/index.ts';
import { readSimEdge } from '../../../../../core/prepare/index.ts';
import { useDocument } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { PercentRow } from '../../../parts/PercentRow.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { LevelBodies } from './LevelBodies.tsx';

const RATES: readonly { value: LevelRate; label: string; hint: string }[] = [
  { value: 'everyFrame', label: 'Every frame', hint: 'Simulated in each frame' },
  {
    value: 'everyOther',
    label: 'Every other',
    hint: 'Simulated in every other frame, with the motion between interpolated: one frame late',
  },
  { value: 'thirty', label: '30 a second', hint: 'Simulated 30 times a second whatever the frame rate' },
];

export interface LevelCardProps {
  garment: GarmentRecord;
  level: GarmentLevel;
  /** Among those of the garment. */
  index: number;
  onChange(label: string, change: Partial<GarmentLevel>): void;
  onRemove(): void;
}

/** One level: from which size on, and how the garment is simulated then. */
export function LevelCard({ garment, level, index, onChange, onRemove }: LevelCardProps) {
  const isOff = level.blend === 0;
  // A level stays between its neighbours.
  const most = index > 0 ? garment.levels[index - 1]!.pixels - 1 : LEVEL_PIXELS.most;
  const least = (garment.levels[index + 1]?.pixels ?? LEVEL_PIXELS.least - 1) + 1;
  return (
    <li className="card px-3 py-2" data-level={index}>
      <div className="flex items-center gap-3">
        <div className="flex-1">
          <NumberRow
            label="Below"
            hint="Taken while the character is less than so many pixels high on the screen"
            value={level.pixels}
            unit="px"
            min={Math.max(8, least)}
            max={Math.min(1500, most)}
            typedMin={least}
            typedMax={most}
            step={1}
            digits={0}
            isLogarithmic
            onChange={(pixels) => onChange('size of a level', { pixels: Math.round(pixels) })}
          />
        </div>
        <ToggleChip
          label="Off"
          hint="Follows the skin and is not simulated"
          className="chip !py-0 text-xs"
          isOn={isOff}
          onToggle={(isOn) => onChange(isOn ? 'level off' : 'level on', { blend: isOn ? 0 : 1 })}
        />
        <button
          type="button"
          className="text-soft"
          aria-label={`Remove level ${index + 1}`}
          onClick={onRemove}
        >
          <Trash2 size={14} />
        </button>
      </div>
      {!isOff && <LevelSettings garment={garment} level={level} onChange={onChange} />}
    </li>
  );
}

function LevelSettings({ garment, level, onChange }: Pick<LevelCardProps, 'garment' | 'level' | 'onChange'>) {
  const { document, character } = useDocument();
  const record = document.records.get(garment.fabricId);
  const fabric = record?.type === 'fabric' ? record.settings : FABRIC_DEFAULTS;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the document is changed in place; another mesh is another character.
  const mesh = useMemo(() => readSimEdge(character, document, garment), [character, garment]);
  const edge = level.edgeLength ?? mesh?.edgeLength ?? 0;
  return (
    <div className="grid grid-cols-2 gap-x-5">
      {mesh ? (
        <NumberRow
          label="Edges"
          hint="Of the mesh that it is simulated on; painted maps are carried over to it"
          value={100 * edge}
          unit="cm"
          min={100 * mesh.edgeLength}
          max={600 * mesh.edgeLength}
          typedMin={100 * LEVEL_EDGES.least}
          typedMax={100 * LEVEL_EDGES.most}
          step={0.1}
          digits={1}
          defaultValue={100 * mesh.edgeLength}
          isLogarithmic
          onChange={(value) =>
            onChange('edges of a level', {
              edgeLength: Math.abs(value / 100 - mesh.edgeLength) < 1e-6 ? null : value / 100,
            })
          }
        />
      ) : (
        <p className="self-center text-xs text-soft">On its own mesh, which is as it was brought in.</p>
      )}
      <NumberRow
        label="Substeps"
        hint="A second, as of the fabric"
        value={level.substepsPerSecond ?? fabric.substepsPerSecond}
        unit="1/s"
        min={LEVEL_SUBSTEPS.least}
        max={fabric.substepsPerSecond}
        typedMax={LEVEL_SUBSTEPS.most}
        step={30}
        digits={0}
        defaultValue={fabric.substepsPerSecond}
        onChange={(value) =>
          onChange('substeps of a level', {
            substepsPerSecond: value === fabric.substepsPerSecond ? null : Math.round(value),
          })
        }
      />
      <PercentRow
        label="Simulated"
        hint="Share of the simulation in what is shown; the rest follows the skin"
        value={level.blend}
        least={5}
        onChange={(blend) => onChange('blend of a level', { blend })}
      />
      <div className="flex items-center gap-2">
        <LevelBodies garment={garment} level={level} onChange={onChange} />
        {fabric.selfDistance > 0 && (
          <ToggleChip
            label="Self-collision"
            className="chip !py-0 text-xs"
            isOn={level.selfCollision}
            onToggle={(selfCollision) => onChange('self-collision of a level', { selfCollision })}
          />
        )}
      </div>
      <div className="col-span-2 pt-1">
        <Choice<LevelRate>
          label="How often it is simulated"
          look="cells"
          value={level.rate}
          options={RATES}
          onChange={(rate) => onChange('rate of a level', { rate })}
        />
      </div>
    </div>
  );
}
