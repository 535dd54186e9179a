import { Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { type BodyRecord, getScene } from '../../../../../core/document/index.ts';
import { mirrorName, SIDE_PAIRS, type SidePair } from '../../../../../core/rig/index.ts';
import { useDocument } from '../../../../state/workbench.ts';

/** What mirroring would do to some bodies, and the marks in joint names that it goes by. */
export function MirrorNames({ bodies }: { bodies: readonly BodyRecord[] }) {
  const { document, character } = useDocument();
  const [isOpen, setOpen] = useState(false);
  const { sidePairs } = getScene(document);
  const joints = [...new Set(bodies.map(({ jointName }) => jointName))];
  return (
    <div className="mt-1.5 text-xs text-soft" data-mirror-names>
      <div className="flex items-baseline gap-2">
        <ul className="min-w-0 flex-1" aria-label="What mirroring pairs">
          {joints.slice(0, SHOWN).map((joint) => (
            <li key={joint} className="truncate">
              {tellPair(joint, mirrorName(joint, sidePairs), character.skeleton.names)}
            </li>
          ))}
          {joints.length > SHOWN && <li>and {joints.length - SHOWN} more</li>}
        </ul>
        <button
          type="button"
          className="shrink-0 text-teal underline"
          aria-expanded={isOpen}
          title="What marks left and right in the names of joints"
          onClick={() => setOpen(!isOpen)}
        >
          Side names
        </button>
      </div>
      {isOpen && <SidePairs pairs={sidePairs} />}
    </div>
  );
}

/** Joints that are told one by one. */
const SHOWN = 4;

function tellPair(joint: string, other: string | null, names: readonly string[]): string {
  if (other === null) return `${joint}: no side, mirrored onto itself`;
  return names.includes(other)
    ? `${joint} → ${other}`
    : `${joint}: there is no ${other}, mirrored onto itself`;
}

function SidePairs({ pairs }: { pairs: readonly SidePair[] }) {
  const editor = useDocument();
  const change = (next: readonly SidePair[]): void =>
    editor.updateScene('Change side names', { sidePairs: next });
  const put = (index: number, side: 0 | 1, value: string): void => {
    // A mark of nothing would be in every name.
    if (value.trim() === '') return;
    change(pairs.map((pair, i) => (i === index ? (side === 0 ? [value, pair[1]] : [pair[0], value]) : pair)));
  };
  const isStandard = JSON.stringify(pairs) === JSON.stringify(SIDE_PAIRS);
  return (
    <div className="mt-1.5 rounded-md bg-paper p-2">
      <p className="mb-1.5">The first that fits is taken; _ stands for any of _ . - and a space.</p>
      <ul className="grid gap-1" aria-label="Side names">
        {pairs.map((pair, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two pairs may be alike while they are typed
          <li key={`${pair[0]} ${pair[1]} ${i}`} className="flex items-center gap-1.5">
            {([0, 1] as const).map((side) => (
              <input
                key={side}
                className="field min-w-0 flex-1"
                maxLength={40}
                aria-label={`${side === 0 ? 'One side' : 'Other side'} of pair ${i + 1}`}
                defaultValue={pair[side]}
                onBlur={(event) => put(i, side, event.target.value)}
                onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
              />
            ))}
            <button
              type="button"
              className="btn !px-1.5 !py-0.5"
              aria-label={`Remove pair ${i + 1}`}
              title="Remove"
              onClick={() => change(pairs.filter((_, other) => other !== i))}
            >
              <Trash2 size={12} />
            </button>
          </li>
        ))}
      </ul>
      <div className="mt-1.5 flex gap-1.5">
        <button
          type="button"
          className="btn !py-0.5"
          disabled={pairs.length >= 20}
          onClick={() => change([...pairs, ['L', 'R']])}
        >
          <Plus size={12} /> Add a pair
        </button>
        <button
          type="button"
          className="btn !py-0.5"
          disabled={isStandard}
          onClick={() => change(SIDE_PAIRS)}
        >
          Standard pairs
        </button>
      </div>
    </div>
  );
}
