import { useStore } from '../../../state/store.ts';
import type { WeightWork } from '../../../state/weight-work.ts';
import { useWorkbench } from '../../../state/workbench.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';

const AXES = ['x', 'y', 'z'] as const;
const DEGREE = Math.PI / 180;

export interface JointTurnsProps {
  work: WeightWork;
}

/** Turns the chosen joint, to see how what follows it bends. */
export function JointTurns({ work }: JointTurnsProps) {
  const workbench = useWorkbench();
  const joint = useStore(work.store, (settings) => settings.joint);
  const turns = useStore(workbench.session, (session) => session.turns);
  const clip = useStore(workbench.session, (session) => session.clip);
  const { character } = workbench.editor;
  const node = character.skins[work.bound.section.skin]!.joints[joint]!;
  const angles = turns.find((turn) => turn.node === node)?.angles ?? [0, 0, 0];
  const turn = (axis: number, degrees: number): void => {
    const next = angles.map((angle, k) => (k === axis ? degrees * DEGREE : angle));
    const others = turns.filter((other) => other.node !== node);
    const made = { node, angles: next as [number, number, number] };
    // Parents before children, as they hang.
    workbench.turn([...others, made].sort((p, q) => p.node - q.node));
  };
  return (
    <div className="mt-2 border-t border-line pt-1.5">
      <p className="font-semibold">Turn {work.jointNames[joint]}</p>
      {AXES.map((axis, k) => (
        <NumberRow
          key={axis}
          label={`About ${axis}`}
          value={angles[k]! / DEGREE}
          unit="°"
          min={-120}
          max={120}
          step={1}
          digits={0}
          defaultValue={0}
          onChange={(degrees) => turn(k, degrees)}
        />
      ))}
      {(turns.length > 0 || clip !== null) && (
        <button type="button" className="btn mt-1" title="Key B" onClick={() => workbench.standInBind()}>
          Back to the bind pose
        </button>
      )}
    </div>
  );
}
