import type { PickSlot } from '../../../../state/reach-work.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { SizeRow } from '../../../parts/SizeRow.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

const TOOLS = [
  {
    tool: 'loop',
    label: 'Loop',
    hint: 'One click takes a whole border, or the loop of edges under the cursor',
  },
  { tool: 'brush', label: 'Brush', hint: 'Along the cloth, on the side that is seen' },
  { tool: 'lasso', label: 'Lasso', hint: 'Draw a line around vertices' },
] as const;

/** How points are picked on the mesh, and what is done with the set. */
export function PickRows({ slot }: { slot: PickSlot }) {
  const { reach } = useWorkbench();
  const { pick, sets } = useStore(reach.store, (state) => state);
  const set = sets[slot];
  const setPick = (update: Partial<typeof pick>): void => reach.store.set({ pick: { ...pick, ...update } });
  return (
    <>
      <div className="flex flex-wrap gap-1.5">
        <Choice
          label="Pick with"
          value={pick.tool}
          options={TOOLS.map(({ tool, ...rest }) => ({ value: tool, ...rest }))}
          onChange={(tool) => setPick({ tool })}
        />
        <ToggleChip
          label="Deselect"
          hint="Takes vertices out of the selection instead"
          isOn={pick.isErasing}
          onToggle={(isErasing) => setPick({ isErasing })}
        />
        {pick.tool !== 'loop' && (
          <ToggleChip
            label="Include hidden"
            hint="What is hidden, too"
            isOn={pick.isThrough}
            onToggle={(isThrough) => setPick({ isThrough })}
          />
        )}
      </div>
      {pick.tool === 'lasso' && (
        <p className="mt-1 text-xs text-soft">
          Draw a line around vertices; hold T and drag to turn the view.
        </p>
      )}
      {pick.tool === 'brush' && (
        <SizeRow label="Brush" value={pick.radius} onChange={(radius) => setPick({ radius })} />
      )}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <button
          type="button"
          className="chip"
          title="Vertices that are held"
          onClick={() => reach.pickHeld(slot)}
        >
          Held
        </button>
        {set && (
          <>
            <button type="button" className="chip" title="By a row" onClick={() => reach.grow(slot)}>
              Grow
            </button>
            <button type="button" className="chip" title="By a row" onClick={() => reach.shrink(slot)}>
              Shrink
            </button>
            <button
              type="button"
              className="chip"
              title="All that is joined to it"
              onClick={() => reach.pickPiece(slot)}
            >
              Whole piece
            </button>
            <button type="button" className="chip" onClick={() => reach.invert(slot)}>
              Invert
            </button>
            <button type="button" className="chip" onClick={() => reach.setPoints(slot, null)}>
              None
            </button>
          </>
        )}
      </div>
    </>
  );
}
