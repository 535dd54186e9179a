import { RadioGroup } from 'radix-ui';
import { LIBRARY_FABRICS, type LibraryFabric } from '../../../../core/cloth/index.ts';

/** What a dragged fabric is called in the browser's drag and drop. */
export const FABRIC_DRAG_TYPE = 'application/x-cobweb-fabric';

export interface FabricLibraryProps {
  /** Name of the fabric in use; null when none is. */
  current: string | null;
  onChoose(fabric: LibraryFabric): void;
}

/** Cloths to begin with: a click gives one to the selected garment, dragging gives it to any. */
export function FabricLibrary({ current, onChoose }: FabricLibraryProps) {
  return (
    <RadioGroup.Root className="mt-2 grid grid-cols-2 gap-1" aria-label="Fabric" value={current ?? ''}>
      {LIBRARY_FABRICS.map((fabric) => {
        const { name, note, bendingLength, settings } = fabric;
        const isCurrent = name === current;
        return (
          <RadioGroup.Item
            key={name}
            value={name}
            draggable
            title={note}
            onDragStart={(event) => {
              event.dataTransfer.setData(FABRIC_DRAG_TYPE, name);
              event.dataTransfer.effectAllowed = 'copy';
            }}
            className={`card px-2 py-1 text-left leading-tight ${isCurrent ? '!border-teal bg-teal-wash' : ''}`}
            // Choosing the one in use takes its own numbers back.
            onClick={() => onChoose(fabric)}
          >
            <span className="block truncate font-semibold">{name}</span>
            <span className="num text-[11px] text-soft">
              {Math.round(1000 * settings.density)} g · {(100 * bendingLength).toFixed(1)} cm
            </span>
          </RadioGroup.Item>
        );
      })}
    </RadioGroup.Root>
  );
}
