import type { BodyMeshSettings } from '../../../../../core/steps/index.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { JointTicks } from '../../../parts/JointTicks.tsx';
import { NumberRow } from '../../../parts/NumberRow.tsx';

export const BODY_MESH_SETTINGS: BodyMeshSettings = { vertexCount: 600, without: [] };

export interface BodyMeshSettingsRowsProps {
  settings: BodyMeshSettings;
  onChange(settings: BodyMeshSettings): void;
}

/** How many vertices a body mesh has at most, and of which joints the skin is left out. */
export function BodyMeshSettingsRows({ settings, onChange }: BodyMeshSettingsRowsProps) {
  const { character } = useDocument();
  const { over, left } = useWorkbench().preparing.bodyMeshes.listSkin();
  const skin = character.sections[over[0]?.sectionIndex ?? 0]?.skin ?? 0;
  const joints = [...(character.skins[skin]?.joints ?? [])];
  const { without } = settings;
  return (
    <>
      <NumberRow
        label="Vertices"
        hint="At most. Twice as many halve what it is off, and take about as long again."
        value={settings.vertexCount}
        unit=""
        min={50}
        max={4000}
        typedMin={12}
        typedMax={20_000}
        step={10}
        digits={0}
        isLogarithmic
        defaultValue={BODY_MESH_SETTINGS.vertexCount}
        onChange={(value) => onChange({ ...settings, vertexCount: Math.round(value) })}
      />
      <details className="mt-1">
        <summary className="cursor-pointer">
          Leave out joints
          {without.length > 0 && (
            <span className="text-soft">
              {' '}
              ({without.length} of {joints.length})
            </span>
          )}
        </summary>
        <p className="mt-1 text-xs text-soft">
          The skin that ticked joints move most is left open: fingers, face.
        </p>
        <JointTicks
          label="Joints left out"
          character={character}
          joints={joints}
          ticked={new Set(without)}
          onChange={(names) => onChange({ ...settings, without: names })}
        />
      </details>
      {left.length > 0 && (
        <p className="mt-1 text-xs text-soft">
          Not over {left.map(({ sectionName }) => sectionName).join(', ')}: of another skin than{' '}
          {over[0]?.sectionName}.
        </p>
      )}
    </>
  );
}
