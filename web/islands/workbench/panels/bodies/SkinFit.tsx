import type { PoseFit } from '../../../../../core/body-figures/index.ts';
import type { RecordId } from '../../../../../core/document/index.ts';
import type { Session } from '../../../../state/session.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

export interface SkinFitProps {
  bodySetId: RecordId;
  pose: FitPose;
  onPose(pose: FitPose): void;
}

export type FitPose = Exclude<Session['fitMap'], 'off'>;

/** How the bodies of a set fill the skin: figures, the largest hole, and colours on the skin. */
export function SkinFit({ bodySetId, pose, onPose }: SkinFitProps) {
  const workbench = useWorkbench();
  const { session, bodyFigures } = workbench;
  const { fit, isFitting, fitFailure } = useStore(bodyFigures.store, (state) => state);
  const fitMap = useStore(session, (state) => state.fitMap);
  const figures = fit?.bodySetId === bodySetId ? fit.figures : null;
  const shown = pose === 'clips' ? (figures?.clips ?? null) : (figures?.bind ?? null);
  const hasClips = workbench.editor.character.clips.length > 0;
  const choose = (next: FitPose): void => {
    onPose(next);
    if (fitMap !== 'off') session.set({ fitMap: next });
  };
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="Fit to the skin" aria-busy={isFitting}>
      <div className="flex items-center gap-2">
        <h2 className="min-w-0 flex-1 font-semibold">Fit to the skin</h2>
        <ToggleChip
          label="Heat map"
          hint="Colours on the skin: bare where no body is near, overhang where one stands out of it"
          isOn={fitMap !== 'off'}
          onToggle={(isOn) => session.set({ fitMap: isOn ? pose : 'off' })}
        />
      </div>
      {hasClips && (
        <div className="mt-2">
          <Choice<FitPose>
            label="Poses"
            look="cells"
            value={pose}
            options={[
              { value: 'bind', label: 'Bind pose' },
              { value: 'clips', label: 'All clips', hint: 'Mean over poses spread evenly over the clips' },
            ]}
            onChange={choose}
          />
        </div>
      )}
      {shown ? (
        <Figures shown={shown} isOld={isFitting} />
      ) : (
        <p className="mt-2 text-soft">
          {fitFailure ?? (figures ? 'No cloth comes near the skin.' : 'Measuring the skin…')}
        </p>
      )}
    </section>
  );
}

function Figures({ shown, isOld }: { shown: PoseFit; isOld: boolean }) {
  const workbench = useWorkbench();
  const { coverage, overhang, hole } = shown;
  if (Number.isNaN(coverage)) return <p className="mt-2 text-soft">No cloth comes near the skin.</p>;
  return (
    <dl className={`mt-2 grid grid-cols-[1fr_auto] gap-y-1 ${isOld ? 'opacity-60' : ''}`}>
      <dt title="Skin that the garments can touch, within 5 mm of a body or inside one">Coverage</dt>
      <dd className="num text-right">{(100 * coverage).toFixed(0)} %</dd>
      <dt title="95 % of that skin lies less deep inside the bodies">Overhang (95 %)</dt>
      <dd className="num text-right">{(1000 * overhang).toFixed(1)} mm</dd>
      <dt title="The widest place that no body covers">Largest hole</dt>
      <dd className="num flex items-center justify-end gap-2">
        {hole ? (
          <>
            <button
              type="button"
              className="font-sans text-teal underline"
              onClick={() => workbench.showPlace(hole.clip, hole.time, hole.position)}
            >
              Show
            </button>
            {(100 * hole.width).toFixed(1)} cm
          </>
        ) : (
          'none'
        )}
      </dd>
    </dl>
  );
}
