import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Eye, EyeOff, GripVertical } from 'lucide-react';
import { findChannel, type GarmentRecord, type RecordId } from '../../../core/document/index.ts';
import { tellVertices } from '../../../core/math/index.ts';
import { useClipCost } from '../../state/clip-cost.ts';
import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import { ToggleChip } from '../parts/ToggleChip.tsx';
import { assignFabric } from './assign-fabric.ts';
import { FABRIC_DRAG_TYPE } from './panels/FabricLibrary.tsx';
import { setVisibility } from './set-visibility.ts';

/** Before a press of the pointer is a drag, px. */
const DRAG_DISTANCE = 5;

export interface GarmentListProps {
  garments: readonly GarmentRecord[];
  selectedId: RecordId | null;
}

/** Garments in the order of their layers, to be selected, hidden and put in another order. */
export function GarmentList({ garments, selectedId }: GarmentListProps) {
  const { editor } = useWorkbench();
  const ids = garments.map(({ id }) => id);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: DRAG_DISTANCE } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const move = (id: RecordId, to: RecordId): void =>
    editor.reorderGarments(arrayMove(ids, ids.indexOf(id), ids.indexOf(to)));
  const drop = ({ active, over }: DragEndEvent): void => {
    if (over && over.id !== active.id) move(active.id as RecordId, over.id as RecordId);
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ul className="flex flex-col gap-1.5">
          {garments.map((garment, index) => (
            <GarmentItem
              key={garment.id}
              garment={garment}
              isSelected={garment.id === selectedId}
              onStep={(steps) => {
                const other = ids[index + steps];
                if (other) move(garment.id, other);
              }}
            />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  );
}

interface GarmentItemProps {
  garment: GarmentRecord;
  isSelected: boolean;
  /** Up or down in the list. */
  onStep(steps: number): void;
}

function GarmentItem({ garment, isSelected, onStep }: GarmentItemProps) {
  const workbench = useWorkbench();
  const { editor, session } = workbench;
  const sortable = useSortable({ id: garment.id });
  const cost = useClipCost()
    ?.mean.garments.find(({ garmentId }) => garmentId === garment.id)
    ?.total.toFixed(2);
  const drawn = garment.renders.length > 0 ? garment.renders : [garment];
  const isHidden = useStore(session, ({ visibility }) =>
    drawn.every(({ sectionIndex }) => visibility.get(sectionIndex) === 'hidden'),
  );
  const points = findChannel(editor.document, garment.id)?.pointCount ?? 0;
  return (
    <li
      ref={sortable.setNodeRef}
      style={{ transform: CSS.Transform.toString(sortable.transform), transition: sortable.transition }}
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes(FABRIC_DRAG_TYPE)) event.preventDefault();
      }}
      onDrop={(event) => {
        const fabric = event.dataTransfer.getData(FABRIC_DRAG_TYPE);
        if (fabric) assignFabric(workbench, garment.id, fabric);
      }}
      className={`card flex items-center overflow-hidden ${isSelected ? '!border-teal shadow-[inset_3px_0_0_var(--color-teal)]' : ''} ${sortable.isDragging ? 'relative z-10 shadow-lg' : ''}`}
      {...sortable.listeners}
      onKeyDown={(event) => {
        // The same as dragging: with Alt, the arrow keys move the garment.
        const steps = { ArrowUp: -1, ArrowDown: 1 }[event.key];
        if (event.altKey && steps) onStep(steps);
        else sortable.listeners?.onKeyDown?.(event);
      }}
    >
      <button
        type="button"
        className="cursor-grab pl-2 text-edge"
        ref={sortable.setActivatorNodeRef}
        {...sortable.attributes}
        aria-label={`Move ${garment.name}`}
        title="Drag to another layer"
      >
        <GripVertical size={14} />
      </button>
      <ToggleChip
        label={garment.name}
        isOn={isSelected}
        onToggle={() => workbench.selectGarment(garment.id)}
        className="min-w-0 flex-1 px-1.5 py-1.5 text-left"
      >
        <span className="block truncate font-semibold">{garment.name}</span>
        <span className="text-xs text-soft">{tellVertices(points)}</span>
      </ToggleChip>
      <span className="flex flex-col items-end pr-2">
        <span className="num text-xs" title="Cost of a frame on the target, ms, on the mean of the clip">
          {cost ?? '–'}
        </span>
        <button
          type="button"
          className="text-soft"
          aria-label={`${isHidden ? 'Show' : 'Hide'} ${garment.name}`}
          title={isHidden ? 'Show' : 'Hide'}
          onClick={() => {
            for (const { sectionIndex } of drawn)
              setVisibility(session, sectionIndex, isHidden ? 'shown' : 'hidden');
          }}
        >
          {isHidden ? <EyeOff size={13} /> : <Eye size={13} />}
        </button>
      </span>
    </li>
  );
}
