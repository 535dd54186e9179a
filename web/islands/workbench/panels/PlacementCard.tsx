import { useState } from 'react';
import { getScene, listGarments, listRecords, listSteps } from '../../../../core/document/index.ts';
import { AS_IN_FILE, findFront, type Placement, UP_AXES } from '../../../../core/rig/index.ts';
import { describeAct } from '../../../../core/steps/index.ts';
import { getFigure } from '../../../state/get-figure.ts';
import { listLikelyScales } from '../../../state/likely-scales.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { Term } from '../../parts/Term.tsx';

const FRONTS = [
  [0, '+Z'],
  [90, '+X'],
  [180, '-Z'],
  [270, '-X'],
] as const;

/** Size, up axis and front of the character, for files whose unit or axes were not what the standard asks. */
export function PlacementCard() {
  const { preparing } = useWorkbench();
  const editor = useDocument();
  const [isBusy, setIsBusy] = useState(false);
  const step = preparing.findPlacement();
  const now: Placement = step?.act.kind === 'place' ? step.act : AS_IN_FILE;
  const figure = getFigure(editor.character);
  const found = findFront(editor.character, figure);
  const scene = getScene(editor.document);
  const isFixed =
    listGarments(editor.document).length > 0 ||
    listRecords(editor.document, 'body').length > 0 ||
    listSteps(editor.document).some(({ id }) => id !== step?.id);
  const place = async (placement: Partial<Placement>): Promise<void> => {
    setIsBusy(true);
    const { scale, up } = { ...now, ...placement };
    await runPreparation(() => preparing.place({ scale, up }));
    setIsBusy(false);
  };
  const likely = isFixed ? [] : listLikelyScales(figure.height);
  return (
    <section aria-label="Size and axes">
      <h2 className="heading mt-4 mb-1">Size and axes</h2>
      {likely.map(({ factor, unit }) => (
        <button
          key={unit}
          type="button"
          className="btn mb-1 w-full !h-auto !whitespace-normal"
          disabled={isBusy}
          onClick={() => void place({ scale: Number((now.scale * factor).toPrecision(6)) })}
        >
          Was it in {unit}? Make it {(factor * figure.height).toFixed(2)} m tall
        </button>
      ))}
      <div className="grid grid-cols-[1fr_116px] items-center gap-x-2 gap-y-1">
        {!isFixed && <PlacementFields now={now} isBusy={isBusy} onPlace={place} />}
        <label htmlFor="placement-front">Front</label>
        <select
          id="placement-front"
          className="field num"
          value={scene.front ?? 'found'}
          onChange={({ target: { value } }) =>
            editor.updateScene('Set front', { front: value === 'found' ? null : Number(value) })
          }
        >
          <option value="found">{found === null ? '+Z' : `${nameFront(found)} (feet)`}</option>
          {FRONTS.map(([angle, name]) => (
            <option key={angle} value={angle}>
              {name}
            </option>
          ))}
        </select>
      </div>
      {isFixed && (
        <p className="mt-1 text-xs text-soft">
          {step ? `As imported: ${describeAct(step.act)}. ` : ''}Scale and up axis are set before the first
          garment: what is painted and fitted is in metres.
        </p>
      )}
    </section>
  );
}

interface PlacementFieldsProps {
  now: Placement;
  isBusy: boolean;
  onPlace(placement: Partial<Placement>): Promise<void>;
}

function PlacementFields({ now, isBusy, onPlace }: PlacementFieldsProps) {
  return (
    <>
      <Term meaning="What lengths of the file are multiplied by: 0.01 for a file that counts in centimetres.">
        <label htmlFor="placement-scale" className="term">
          Scale
        </label>
      </Term>
      <NumberField
        id="placement-scale"
        value={now.scale}
        unit="×"
        digits={now.scale < 1 ? 4 : 2}
        step={now.scale / 10}
        onCommit={(scale) => {
          if (!isBusy && scale > 0) void onPlace({ scale: Math.min(1e5, Math.max(1e-5, scale)) });
        }}
      />
      <label htmlFor="placement-up">Up axis of the file</label>
      <select
        id="placement-up"
        className="field num"
        value={now.up}
        disabled={isBusy}
        onChange={({ target }) => void onPlace({ up: target.value as Placement['up'] })}
      >
        {UP_AXES.map((up) => (
          <option key={up}>{up}</option>
        ))}
      </select>
    </>
  );
}

function nameFront(angle: number): string {
  return FRONTS.find(([own]) => own === angle)?.[1] ?? `${angle}°`;
}
