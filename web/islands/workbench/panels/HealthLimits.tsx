import { getScene } from '../../../../core/document/index.ts';
import { HEALTH_LIMITS } from '../../../../core/mesh/index.ts';
import { useDocument } from '../../../state/workbench.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';

/** What a mesh may measure before a check finds something, for all sections of the character. */
export function HealthLimits() {
  const editor = useDocument();
  const { healthLimits } = getScene(editor.document);
  const changed = HEALTH_LIMITS.filter(({ name }) => healthLimits[name] !== undefined).length;
  return (
    <details className="mt-2">
      <summary className="cursor-pointer font-semibold">
        Limits of the checks
        {changed > 0 && <span className="font-normal text-soft"> · {changed} changed</span>}
      </summary>
      {HEALTH_LIMITS.map(({ name, label, unit, least, most, standard, hint }) => (
        <NumberRow
          key={name}
          label={label}
          value={healthLimits[name] ?? standard}
          unit={unit}
          min={least}
          max={Math.min(most, 8 * standard)}
          typedMax={most}
          step={0.1}
          digits={1}
          defaultValue={standard}
          hint={hint}
          onChange={(value) => {
            const { [name]: _was, ...others } = healthLimits;
            const limits = value === standard ? others : { ...others, [name]: value };
            editor.updateScene(`Set a limit: ${label.toLowerCase()}`, { healthLimits: limits });
          }}
        />
      ))}
    </details>
  );
}
