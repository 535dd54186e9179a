import { ClipboardCopy, SlidersHorizontal } from 'lucide-react';
import { Toggle } from 'radix-ui';
import { type RefObject, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { FABRIC_DEFAULTS, LIBRARY_FABRICS } from '../../../core/cloth/index.ts';
import type { Choice, Comparison } from '../../state/comparison.ts';
import { copyFabric, readCopiedFabric } from '../../state/fabric-clipboard.ts';
import { useStore } from '../../state/store.ts';
import { Viewport } from '../../viewport/viewport.ts';
import { FabricRows } from '../parts/FabricRows.tsx';

export interface SidePaneProps {
  comparison: Comparison;
  side: number;
  /** Where the two sides' viewports are kept. */
  viewports: RefObject<(Viewport | null)[]>;
}

const NAMES = ['A', 'B'];
/** The colours of the two sides in the rows below. */
const TONES = ['bg-teal', 'bg-marigold'];

/** One side: its viewport, what it shows, and its fabric to change. */
export function SidePane({ comparison, side, viewports }: SidePaneProps) {
  const container = useRef<HTMLDivElement>(null);
  const [isEditing, setEditing] = useState(false);
  const choice = useStore(comparison.store, (state) => state.choices[side]!);
  const hasFrame = useStore(comparison.playback.preview.store, (state) => state.layout !== null);
  const failure = useStore(comparison.playback.preview.store, (state) => state.failure);
  useEffect(
    function mountViewport() {
      const made = new Viewport(container.current!, comparison.sides[side]!, () => {});
      viewports.current[side] = made;
      if (side === 1 && localStorage.getItem('debug') === 'on')
        Object.assign(window, { comparison, viewports: viewports.current });
      return () => {
        viewports.current[side] = null;
        made.dispose();
      };
    },
    [comparison, side, viewports],
  );
  return (
    <div
      className={`stage-ground relative overflow-hidden ${side === 1 ? 'border-l border-line' : ''}`}
      data-preview={hasFrame ? 'moving' : 'loading'}
    >
      <div ref={container} className="absolute inset-0" role="img" aria-label={`Side ${NAMES[side]}`} />
      <div className="floating absolute top-3 left-3 flex items-center gap-2">
        <span className={`num rounded px-1.5 font-bold text-on-accent ${TONES[side]}`}>{NAMES[side]}</span>
        <ChoiceSelect comparison={comparison} side={side} choice={choice} />
        <Toggle.Root
          className="btn !px-1.5"
          pressed={isEditing}
          aria-label={`Settings of ${NAMES[side]}`}
          title="Change this side's fabric"
          disabled={choice.kind === 'skinned'}
          onPressedChange={setEditing}
        >
          <SlidersHorizontal size={14} />
        </Toggle.Root>
        <button
          type="button"
          className="btn !px-1.5"
          aria-label={`Copy the fabric of ${NAMES[side]}`}
          title="Copy this side's fabric, to paste it at the stage Fabric"
          disabled={choice.kind === 'skinned'}
          onClick={() => {
            const fabric = comparison.readFabric(side);
            if (!fabric) return;
            copyFabric(fabric);
            toast(`Copied ${fabric.name}. Paste it at the stage Fabric.`);
          }}
        >
          <ClipboardCopy size={14} />
        </button>
      </div>
      {isEditing && choice.kind !== 'skinned' && <SideSettings comparison={comparison} side={side} />}
      {failure && (
        <div role="alert" className="floating absolute bottom-3 left-3 text-brick">
          <b>The preview stopped.</b> {failure}
        </div>
      )}
    </div>
  );
}

function ChoiceSelect({
  comparison,
  side,
  choice,
}: {
  comparison: Comparison;
  side: number;
  choice: Choice;
}) {
  const copied = readCopiedFabric();
  const isListed = choice.kind === 'fabric' && LIBRARY_FABRICS.some(({ name }) => name === choice.name);
  const value = choice.kind === 'fabric' ? (isListed ? choice.name : 'own') : choice.kind;
  const choose = (wanted: string): void => {
    const fabric = LIBRARY_FABRICS.find(({ name }) => name === wanted);
    if (wanted === 'authored' || wanted === 'skinned') comparison.setChoice(side, { kind: wanted });
    else if (wanted === 'copied' && copied) comparison.setChoice(side, { kind: 'fabric', ...copied });
    else if (fabric) {
      comparison.setChoice(side, { kind: 'fabric', name: fabric.name, settings: { ...fabric.settings } });
    }
  };
  return (
    <select
      className="field !w-auto font-semibold"
      aria-label={`What ${NAMES[side]} shows`}
      value={value}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="skinned">skinned only</option>
      <option value="authored">as authored</option>
      {value === 'own' && choice.kind === 'fabric' && <option value="own">{choice.name}</option>}
      {copied && <option value="copied">copied: {copied.name}</option>}
      <optgroup label="Library">
        {LIBRARY_FABRICS.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </optgroup>
    </select>
  );
}

/** All settings of the side's fabric, over the viewport. Nothing here changes what is saved. */
function SideSettings({ comparison, side }: { comparison: Comparison; side: number }) {
  useStore(comparison.store, (state) => state.choices[side]);
  const fabric = comparison.readFabric(side);
  if (!fabric) return null;
  const base = fabric.name.replace(/, changed$/, '');
  const defaults = LIBRARY_FABRICS.find(({ name }) => name === base)?.settings ?? FABRIC_DEFAULTS;
  return (
    <div
      className={`absolute bottom-3 w-[272px] overflow-y-auto rounded-md bg-panel/95 px-4 py-1.5 shadow ${side === 0 ? 'top-14 left-3' : 'top-3 right-3'}`}
    >
      <FabricRows
        settings={fabric.settings}
        defaults={defaults}
        onChange={(key, value) =>
          comparison.setChoice(side, {
            kind: 'fabric',
            name: `${base}, changed`,
            settings: { ...comparison.readFabric(side)!.settings, [key]: value },
          })
        }
      />
    </div>
  );
}
