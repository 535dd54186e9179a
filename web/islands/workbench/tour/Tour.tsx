import { useEffect, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { STAGES } from '../../../state/session.ts';
import { useStore } from '../../../state/store.ts';
import { useWorkbench, type Workbench } from '../../../state/workbench.ts';
import { helpStore } from '../commands/help-commands.ts';
import { type Box, placeBeside } from './place-beside.ts';
import { TOUR_STEPS, type TourStep } from './tour-steps.ts';

const LOOK_EVERY_MS = 200;
const CARD = { width: 268, height: 170 };

interface Seen {
  step: TourStep | null;
  /** In another stage than the step: the knot is pointed at. */
  isElsewhere: boolean;
  /** Of the control. */
  box: Box | null;
  /** What the card must not cover: the control with all of the panel beside it. */
  around: Box | null;
}

/** The first garment, step by step: points at the real controls, and goes on by itself when a step is done. */
export function Tour() {
  const isOn = useStore(helpStore, (state) => state.isTourOn);
  return isOn ? createPortal(<Steps />, document.body) : null;
}

function Steps() {
  const workbench = useWorkbench();
  const passed = useRef(new Set<string>());
  const remembered = useRef(new Map<string, string>());
  const [seen, setSeen] = useState<Seen>({ step: null, isElsewhere: false, box: null, around: null });
  useEffect(
    function watch() {
      const look = (): void => setSeen(lookAround(workbench, passed.current, remembered.current));
      look();
      const timer = setInterval(look, LOOK_EVERY_MS);
      return () => clearInterval(timer);
    },
    [workbench],
  );
  const { step, isElsewhere, box, around } = seen;
  const number = step ? TOUR_STEPS.indexOf(step) + 1 : TOUR_STEPS.length;
  const stage = STAGES.find((each) => each.stage === step?.stage);
  const end = (): void => helpStore.set({ isTourOn: false });
  return (
    <>
      {box && (
        <div
          className="pointer-events-none fixed z-40 rounded-lg shadow-[0_0_0_3px_var(--color-teal),0_0_0_7px_rgb(19_105_106/0.2)]"
          style={{ left: box.left - 4, top: box.top - 4, width: box.width + 8, height: box.height + 8 }}
          aria-hidden
        />
      )}
      <aside
        className="card fixed z-40 bg-panel p-3 shadow-xl"
        style={{
          width: CARD.width,
          ...placeBeside(around, CARD, { width: innerWidth, height: innerHeight }),
        }}
        aria-label="Tour"
        data-tour-step={step?.id ?? 'end'}
      >
        <p className="heading">First garment · {step ? `step ${number} of ${TOUR_STEPS.length}` : 'done'}</p>
        <div aria-live="polite">
          <h2 className="mt-0.5 text-[15px] font-semibold">{step?.title ?? 'That is all there is to it'}</h2>
          <p className="mt-1">
            {step
              ? isElsewhere && stage
                ? `It is done in ${stage.label}: press its knot above, or ${stage.key}.`
                : step.text
              : 'The character is ready for an engine. Everything can still be changed, and each stage has a page in the manual.'}
          </p>
        </div>
        <div className="mt-3 flex items-center gap-2">
          {step ? (
            <>
              <button type="button" className="btn" onClick={() => passed.current.add(step.id)}>
                Skip this step
              </button>
              <button type="button" className="btn btn-quiet" onClick={end}>
                End the tour
              </button>
            </>
          ) : (
            <button type="button" className="btn btn-main" onClick={end}>
              Close
            </button>
          )}
        </div>
      </aside>
    </>
  );
}

/** The step that is to be done now, and where on the screen. @param passed - Steps that are done, added to. */
function lookAround(workbench: Workbench, passed: Set<string>, remembered: Map<string, string>): Seen {
  for (const step of TOUR_STEPS) {
    if (passed.has(step.id)) continue;
    if (!remembered.has(step.id)) remembered.set(step.id, step.remember?.(workbench) ?? '');
    if (step.isDone(workbench, remembered.get(step.id)!)) {
      passed.add(step.id);
      continue;
    }
    const isElsewhere = step.stage !== null && workbench.session.state.stage !== step.stage;
    const targets = isElsewhere ? [`[data-stage="${step.stage}"]`] : step.targets;
    return { step, isElsewhere, ...findPlace(targets) };
  }
  return { step: null, isElsewhere: false, box: null, around: null };
}

/** Where the first of some controls stands, scrolled to where it can be seen. */
function findPlace(selectors: readonly string[]): Pick<Seen, 'box' | 'around'> {
  for (const selector of selectors)
    for (const element of document.querySelectorAll(selector)) {
      const box = element.getBoundingClientRect();
      if (box.width === 0) continue;
      const panel = element.closest('aside')?.getBoundingClientRect();
      if (!panel) return { box, around: box };
      if (box.top < panel.top || Math.min(box.bottom, box.top + 40) > panel.bottom)
        element.scrollIntoView({ block: 'center' });
      const height = Math.min(box.bottom, panel.bottom) - box.top;
      return {
        box: { left: box.left, top: box.top, width: box.width, height },
        around: { left: panel.left, top: box.top, width: panel.width, height },
      };
    }
  return { box: null, around: null };
}
