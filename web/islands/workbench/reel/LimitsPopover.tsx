import { Popover } from 'radix-ui';
import { useRef } from 'react';
import { toast } from 'sonner';
import { getScene, type Limits, listGarments, type MeasureKey } from '../../../../core/document/index.ts';
import { MEASURES, resolveLimits } from '../../../../core/trials/index.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { LimitCell } from './LimitCell.tsx';

/** What trials must stay within: for the project, for all garments, and for the selected one. */
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
        title="What trials must stay within: for the project, for all garments, and for the selected one"
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
  const { session, version, projectLimits } = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(session, (state) => state.garmentId);
  const scene = getScene(editor.document);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId) ?? null;
  const { project, limits: ofProject } = projectLimits;
  const setForProject = (measure: string, limits: Limits): void => {
    const before = ofProject;
    const undo = { label: 'Undo', onClick: () => void tell(projectLimits.set(before)) };
    void tell(projectLimits.set(limits)).then(
      (isDone) =>
        isDone &&
        toast(`The limit of ${measure} holds for all characters of ${project.name}`, { action: undo }),
    );
  };
  const columns: Column[] = [
    {
      head: `Project ${project.name}`,
      hint: 'For all characters of this project, where nothing nearer is said',
      whose: 'the project',
      elsewhere: 'the starting limit',
      said: [ofProject],
      onChange: setForProject,
      // An earlier state is looked at: its project is that of now.
      isHidden: version !== null,
    },
    {
      head: 'All garments',
      hint: 'Of this character',
      whose: 'all garments',
      elsewhere: 'that of the project',
      said: [scene.trialLimits, ofProject],
      onChange: (measure: string, trialLimits: Limits) =>
        editor.updateScene(`Set a limit: ${measure}`, { trialLimits }),
    },
    ...(garment
      ? [
          {
            head: garment.name,
            hint: 'Of this garment alone',
            whose: garment.name,
            elsewhere: 'that of all garments',
            said: [garment.trialLimits, scene.trialLimits, ofProject],
            onChange: (measure: string, trialLimits: Limits) =>
              editor.updateRecord(`Set a limit: ${measure}`, garment, { trialLimits }),
          },
        ]
      : []),
  ].filter(({ isHidden }) => !isHidden);
  return (
    <table className="border-separate border-spacing-x-3 border-spacing-y-0.5">
      <thead>
        <tr className="text-left text-soft">
          <th className="font-normal">A garment fails when it is over</th>
          {columns.map(({ head, hint, whose }) => (
            <th key={whose} className="max-w-[150px] truncate font-normal" title={hint}>
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {MEASURES.map((measure) => (
          <tr key={measure.key}>
            <td title={measure.effect}>{measure.label}</td>
            {columns.map(({ whose, elsewhere, said, onChange }) => (
              <td key={whose}>
                <LimitCell
                  measure={measure}
                  whose={whose}
                  elsewhere={elsewhere}
                  value={resolveLimits(...said)[measure.key]}
                  isOwn={said[0]![measure.key] !== undefined}
                  onChange={(value) => onChange(measure.label, withLimit(said[0]!, measure.key, value))}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Limits for somebody. */
interface Column {
  head: string;
  hint: string;
  whose: string;
  elsewhere: string;
  /** What is said, the nearest first: that of the column itself. */
  said: readonly Limits[];
  /** @param measure - The one that was set, in words. */
  onChange(measure: string, limits: Limits): void;
  isHidden?: boolean;
}

/** @returns Whether it was done; says why not. */
async function tell(setting: Promise<void>): Promise<boolean> {
  try {
    await setting;
    return true;
  } catch (error) {
    toast.error((error as Error).message);
    return false;
  }
}

function withLimit(limits: Limits, key: MeasureKey, value: number | null | undefined): Limits {
  const { [key]: _was, ...others } = limits;
  return value === undefined ? others : { ...others, [key]: value };
}
