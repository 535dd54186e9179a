import { Check } from 'lucide-react';
import { countBodies, findChannel, listGarments } from '../../../core/document/index.ts';
import type { Editor } from '../../state/editor.ts';
import { STAGES, type Stage } from '../../state/session.ts';
import { useStore } from '../../state/store.ts';
import { useDocument, useWorkbench, type Workbench } from '../../state/workbench.ts';

type Knot = 'untouched' | 'in work' | 'has findings' | 'done';

/** The stages as knots on a thread, in working order; each is one click or one key away. */
export function StageThread() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const stage = useStore(workbench.session, (session) => session.stage);
  useStore(workbench.findings.store, ({ findings }) => findings);
  useStore(workbench.trials.store, ({ trials }) => trials);
  useStore(workbench.shipped, (state) => state);
  return (
    <nav aria-label="Stages" className="flex justify-center">
      {STAGES.map(({ stage: each, label, key }, index) => {
        const knot = getKnot(each, workbench, editor);
        const isCurrent = each === stage;
        return (
          <button
            type="button"
            key={each}
            data-stage={each}
            aria-current={isCurrent ? 'step' : undefined}
            title={`${label}: ${knot} (key ${key})`}
            className="relative flex w-[70px] min-w-[26px] flex-col items-center rounded-md py-0.5"
            onClick={() => workbench.session.set({ stage: each })}
          >
            {index > 0 && (
              <span
                className="absolute top-[10px] right-[calc(50%+8px)] h-px w-[calc(100%-16px)] bg-rim"
                aria-hidden
              />
            )}
            <KnotMark knot={knot} isCurrent={isCurrent} />
            <span
              className={`mt-0.5 text-xs whitespace-nowrap ${isCurrent ? 'font-bold text-teal' : 'text-soft max-[1129px]:sr-only'}`}
            >
              {label}
            </span>
          </button>
        );
      })}
    </nav>
  );
}

function KnotMark({ knot, isCurrent }: { knot: Knot; isCurrent: boolean }) {
  const base =
    'relative z-10 flex size-[16px] items-center justify-center rounded-full border-[1.5px] text-[10px] font-bold';
  if (isCurrent)
    return <span className={`${base} border-teal bg-teal shadow-[0_0_0_3px_var(--color-teal-wash)]`} />;
  const looks: Record<Knot, string> = {
    untouched: 'border-edge bg-panel',
    'in work': 'border-teal bg-panel',
    'has findings': 'border-marigold bg-panel text-marigold-ink',
    done: 'border-moss bg-moss text-on-accent',
  };
  return (
    <span className={`${base} ${looks[knot]}`}>
      {knot === 'done' && <Check size={10} strokeWidth={3.5} />}
      {knot === 'has findings' && '!'}
    </span>
  );
}

/** Of the newest trial: whether all of it passes, and is of what is on the screen. */
function getTrialsKnot([newest]: Workbench['trials']['store']['state']['trials']): Knot {
  if (!newest) return 'untouched';
  if (newest.broken > 0) return 'has findings';
  return newest.fits ? 'done' : 'in work';
}

/** What a stage's knot says, over all garments. */
function getKnot(
  stage: Stage,
  { report, shipped, trials, findings: watch }: Workbench,
  editor: Editor,
): Knot {
  const { document } = editor;
  const garments = listGarments(document);
  if (stage === 'intake') return report.odd.length > 0 ? 'has findings' : 'done';
  if (garments.length === 0) return 'untouched';
  if (stage === 'trials') return getTrialsKnot(trials.store.state.trials);
  if (stage === 'ship') return shipped.state.isShipped ? 'in work' : 'untouched';
  const findings = garments.flatMap(({ id }) => watch.get(id));
  if (findings.some((finding) => finding.stage === stage && finding.severity !== 'note'))
    return 'has findings';
  if (stage === 'garment') return 'done';
  if (stage === 'simMesh') return garments.some(({ renders }) => renders.length > 0) ? 'done' : 'untouched';
  if (stage === 'reach') {
    const isPainted = garments.some((garment) => {
      const channel = findChannel(document, garment.id);
      return channel && document.arrays.get(channel.id)?.some((value) => value > 0);
    });
    return isPainted ? 'done' : 'untouched';
  }
  if (stage === 'bodies')
    return garments.some((garment) => countBodies(document, garment.bodySetId) > 0) ? 'done' : 'untouched';
  return 'in work';
}
