import type { Character } from '../../../core/rig/index.ts';

export interface JointTicksProps {
  /** What ticking is for, for who cannot see it. */
  label: string;
  character: Pick<Character, 'skeleton'>;
  /** Nodes that are shown, with those above them left out where they are none of these. */
  joints: readonly number[];
  /** Names. */
  ticked: ReadonlySet<string>;
  onChange(ticked: string[]): void;
}

/** Joints as they hang, to be ticked: one takes all below it along. */
export function JointTicks({ label, character: { skeleton }, joints, ticked, onChange }: JointTicksProps) {
  const { names, parents } = skeleton;
  const shown = new Set(joints);
  const isBelow = (node: number, above: number): boolean => {
    for (let at = node; at >= 0; at = parents[at]!) if (at === above) return true;
    return false;
  };
  const countAbove = (node: number): number => {
    let count = 0;
    for (let at = parents[node]!; at >= 0; at = parents[at]!) if (shown.has(at)) count++;
    return count;
  };
  const toggle = (node: number): void => {
    const isOn = !ticked.has(names[node]!);
    const own = joints.filter((joint) => isBelow(joint, node)).map((joint) => names[joint]!);
    const others = [...ticked].filter((name) => !own.includes(name));
    onChange(isOn ? [...others, ...own] : others);
  };
  return (
    <ul
      className="mt-1 max-h-[168px] overflow-y-auto rounded-md border border-line bg-white py-1"
      aria-label={label}
    >
      {sortByTree(joints, parents).map((node) => (
        <li key={node}>
          <label
            className="flex items-center gap-1.5 px-2 py-[1px] hover:bg-paper"
            style={{ paddingLeft: 8 + 12 * countAbove(node) }}
          >
            <input
              type="checkbox"
              className="accent-teal"
              checked={ticked.has(names[node]!)}
              onChange={() => toggle(node)}
            />
            <span className="truncate">{names[node]}</span>
          </label>
        </li>
      ))}
    </ul>
  );
}

/** Each joint before those below it, and these right after it. */
function sortByTree(joints: readonly number[], parents: ArrayLike<number>): number[] {
  const shown = new Set(joints);
  const findAbove = (node: number): number => {
    let at = parents[node]!;
    while (at >= 0 && !shown.has(at)) at = parents[at]!;
    return at;
  };
  const below = new Map<number, number[]>();
  for (const node of [...joints].sort((p, q) => p - q)) {
    const above = findAbove(node);
    below.set(above, [...(below.get(above) ?? []), node]);
  }
  const list = (above: number): number[] => (below.get(above) ?? []).flatMap((node) => [node, ...list(node)]);
  return list(-1);
}
