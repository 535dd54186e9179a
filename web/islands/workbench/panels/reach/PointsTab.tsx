import { findSection } from '../../../../../core/rig/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { PickRows } from './PickRows.tsx';
import { WholeMapCard } from './WholeMapCard.tsx';

/** Points picked on the mesh: to hold them, and to keep all painting to them. */
export function PointsTab() {
  const { reach } = useWorkbench();
  const mask = useStore(reach.store, (state) => state.sets.mask);
  const picked = mask?.reduce((sum, one) => sum + one, 0) ?? 0;
  return (
    <>
      <PickRows slot="mask" />
      <JointPicker />
      <p className="mt-2">
        <b className="num" data-picked={picked}>
          {picked.toLocaleString('en')}
        </b>{' '}
        vertices picked
        {picked > 0 && <span className="text-soft">; brush, ramp and images keep to them</span>}
      </p>
      <button
        type="button"
        className="btn btn-main mt-1.5"
        disabled={picked === 0}
        title="Their max distance becomes 0"
        onClick={() => reach.hold()}
      >
        Hold them
      </button>
      {picked > 0 && <WholeMapCard />}
    </>
  );
}

function JointPicker() {
  const { reach, editor } = useWorkbench();
  const { garment } = reach;
  if (!garment) return null;
  const { character } = editor;
  const section = character.sections[findSection(character, garment)]!;
  const { joints } = character.skins[section.skin]!;
  return (
    <select
      className="field mt-1.5"
      aria-label="Vertices that a joint leads"
      value=""
      onChange={(event) => reach.pickJoint('mask', Number(event.target.value))}
    >
      <option value="" disabled>
        Vertices that a joint leads…
      </option>
      {Array.from(joints, (node, joint) => (
        <option key={node} value={joint}>
          {character.skeleton.names[node]}
        </option>
      ))}
    </select>
  );
}
