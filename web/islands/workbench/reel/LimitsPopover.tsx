import { Popover } from 'radix-ui';
import { useRef } from 'react';
import { getScene, type Limits, listGarments, type MeasureKey } from '../../../../core/document/index.ts';
import { MEASURES, resolveLimits } from '../../../../core/trials/index.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { ALL, LimitCell } from './LimitCell.tsx';

/** What trials must stay within: for all garments, and for the selected one. */
export function LimitsPopover() {
  const isByPointer = useRef(false);
  return (
    <Popover.Root>
      <Popover.Trigger
        onPointerDown={() => {
          isByPointer.current = true;
        }}
        onKeyDown={() => {
          isByPointer.current = false;
        }}
        className="btn btn-quiet !px-1 !py-0 text-[11px] leading-3 underline decoration-dotted underline-offset-2"
        title="What trials must stay within, for all garments and for the selected one"
      >
        Limits…
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          side="top"
          sideOffset={8}
          className="card z-50 bg-panel p-4 shadow-lg"
          aria-label="Limits of trials"
          onCloseAutoFocus={(event) => {
            // Whoever came by mouse has the keys of the workbench again: Space plays.
            if (isByPointer.current) event.preventDefault();
          }}
        >
          <LimitsTable />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function LimitsTable() {
  const { session } = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(session, (state) => state.garmentId);
  const scene = getScene(editor.document);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId) ?? null;
  const ofAll = resolveLimits(scene.trialLimits);
  const ofGarment = garment && resolveLimits(garment.trialLimits, scene.trialLimits);
  return (
    <table className="border-separate border-spacing-x-3 border-spacing-y-0.5">
      <thead>
        <tr className="text-left text-soft">
          <th className="font-normal">A garment fails when it is over</th>
          <th className="font-normal">All garments</th>
          {garment && <th className="font-normal">{garment.name}</th>}
        </tr>
      </thead>
      <tbody>
        {MEASURES.map((measure) => {
          const { key, label, effect } = measure;
          const step = `Set a limit: ${label}`;
          return (
            <tr key={key}>
              <td title={effect}>{label}</td>
              <td>
                <LimitCell
                  measure={measure}
                  whose={ALL}
                  value={ofAll[key]}
                  isOwn={scene.trialLimits[key] !== undefined}
                  onChange={(value) =>
                    editor.updateScene(step, { trialLimits: withLimit(scene.trialLimits, key, value) })
                  }
                />
              </td>
              {garment && ofGarment && (
                <td>
                  <LimitCell
                    measure={measure}
                    whose={garment.name}
                    value={ofGarment[key]}
                    isOwn={garment.trialLimits[key] !== undefined}
                    onChange={(value) =>
                      editor.updateRecord(step, garment, {
                        trialLimits: withLimit(garment.trialLimits, key, value),
                      })
                    }
                  />
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function withLimit(limits: Limits, key: MeasureKey, value: number | null | undefined): Limits {
  const { [key]: _was, ...others } = limits;
  return value === undefined ? others : { ...others, [key]: value };
}
