import { type Character, listJointsBelow, listJointTree } from '../../../core/rig/index.ts';

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
  const { names } = skeleton;
  const toggle = (node: number): void => {
    const own = listJointsBelow(skeleton, joints, node).map((joint) => names[joint]!);
    const others = [...ticked].filter((name) => !own.includes(name));
    onChange(ticked.has(names[node]!) ? others : [...others, ...own]);
  };
  return (
    <ul
      className="mt-1 max-h-[168px] overflow-y-auto rounded-md border border-line bg-surface py-1"
      aria-label={label}
    >
      {listJointTree(skeleton, joints).map(({ node, depth }) => (
        <li key={node}>
          <label
            className="flex items-center gap-1.5 px-2 py-[1px] hover:bg-paper"
            style={{ paddingLeft: 8 + 12 * depth }}
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
