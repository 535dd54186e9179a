import { Copy, Pencil, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import {
  type ChannelRecord,
  findChannel,
  type GarmentRecord,
  listMaps,
} from '../../../../../core/document/index.ts';
import { CHANNELS, formatValue } from '../../../../../core/reach/index.ts';
import { addMap, duplicateMap, useMap as putInUse, removeMap } from '../../../../state/maps.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { IconButton } from '../../../parts/IconButton.tsx';
import { CompareIcon } from '../../../parts/icons/ToolIcons.tsx';
import { NameEditor } from '../../../parts/NameEditor.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

/** The maps of the chosen channel: which is in use, and what is done with it. */
export function MapRow({ garment }: { garment: GarmentRecord }) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const channel = useStore(workbench.session, (session) => session.channel);
  const [isNaming, setNaming] = useState(false);
  const maps = listMaps(editor.document, garment.id, channel);
  const used = findChannel(editor.document, garment.id, channel);
  if (!used)
    return (
      <p className="mt-1.5 text-xs text-soft">
        No map yet: {formatValue(channel, CHANNELS[channel].defaultValue)} everywhere. Painting makes one.
      </p>
    );
  return (
    <div className="mt-1.5 flex items-center gap-1">
      {isNaming ? (
        <NameEditor
          name={used.name}
          label="Name of the map"
          onDone={(name) => {
            setNaming(false);
            if (name) editor.updateRecord(`Rename map ${used.name}`, used, { name });
          }}
        />
      ) : (
        <select
          className="field min-w-0 flex-1"
          aria-label="Map in use"
          value={used.id}
          onChange={(event) => {
            const map = maps.find(({ id }) => id === event.target.value);
            if (map) putInUse(editor, map);
          }}
        >
          {maps.map((map) => (
            <option key={map.id} value={map.id}>
              {map.name}
            </option>
          ))}
        </select>
      )}
      <IconButton
        label="Rename the map"
        onClick={() => setNaming(true)}
        icon={<Pencil size={13} />}
        className="shrink-0 !p-1"
      />
      <IconButton
        label="Duplicate the map"
        onClick={() => duplicateMap(editor, used)}
        icon={<Copy size={13} />}
        className="shrink-0 !p-1"
      />
      <IconButton
        label="New map"
        onClick={() => addMap(editor, garment, channel, used.pointCount)}
        icon={<Plus size={13} />}
        className="shrink-0 !p-1"
      />
      <IconButton
        label="Remove the map"
        onClick={() => removeMap(editor, used)}
        icon={<Trash2 size={13} />}
        className="shrink-0 !p-1"
        // A garment always has a map of max distances.
        isDisabled={channel === 'maxDistance' && maps.length === 1}
      />
      <CompareButton maps={maps} used={used} />
    </div>
  );
}

/** Shows how another map of the channel differs; each click goes to the next, then back. */
function CompareButton({ maps, used }: { maps: readonly ChannelRecord[]; used: ChannelRecord }) {
  const { reach } = useWorkbench();
  const comparedId = useStore(reach.store, (state) => state.comparedId);
  const others = maps.filter(({ id }) => id !== used.id);
  if (others.length === 0) return null;
  const at = others.findIndex(({ id }) => id === comparedId);
  const next = others[at + 1];
  return (
    <ToggleChip
      label={next ? `Compare with ${next.name}` : 'Compare no more'}
      hint={next ? `Compare with ${next.name}` : 'Compare no more'}
      isOn={at >= 0}
      onToggle={() => reach.store.set({ comparedId: next?.id ?? null })}
      className="btn shrink-0 !p-1 data-[state=on]:!border-teal data-[state=on]:!bg-teal-wash"
    >
      <CompareIcon size={13} />
    </ToggleChip>
  );
}
