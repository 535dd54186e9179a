import { useState } from 'react';
import { tellVertices } from '../../../../core/math/index.ts';
import {
  type CheckedMesh,
  growFaces,
  invertFaces,
  pickIslands,
  pickPieces,
  shrinkFaces,
} from '../../../../core/mesh/index.ts';
import { findSection, type Section, type SectionName } from '../../../../core/rig/index.ts';
import { packPicked } from '../../../../core/steps/index.ts';
import { useClipCost } from '../../../state/clip-cost.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { getSectionMesh } from '../../../state/section-mesh.ts';
import type { FacePick } from '../../../state/session.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { Choice } from '../../parts/Choice.tsx';
import { SizeRow } from '../../parts/SizeRow.tsx';
import { ToggleChip } from '../../parts/ToggleChip.tsx';

type Widen = (mesh: CheckedMesh, isPicked: Uint8Array) => Uint8Array;

const WIDENINGS: readonly { label: string; hint: string; apply: Widen }[] = [
  { label: 'Grow', hint: 'By a ring of faces', apply: growFaces },
  { label: 'Shrink', hint: 'By a ring of faces', apply: shrinkFaces },
  { label: 'Invert', hint: 'What is not picked', apply: (_mesh, isPicked) => invertFaces(isPicked) },
  { label: 'Whole pieces', hint: 'All that is joined to what is picked', apply: pickPieces },
  { label: 'Whole islands', hint: 'All of the UV islands that are touched', apply: pickIslands },
];

export interface CutCardProps {
  section: SectionName;
}

/** Faces picked by brush, joint, piece or island, and made a section of their own. */
export function CutCard({ section }: CutCardProps) {
  const workbench = useWorkbench();
  const { editor, session } = workbench;
  useDocument();
  const pick = useStore(session, (state) => state.pick);
  const sectionIndex = findSection(editor.character, section);
  const data = editor.character.sections[sectionIndex];
  if (!data) return null;
  if (pick?.sectionIndex !== sectionIndex) {
    return (
      <button type="button" className="btn" onClick={() => workbench.pickFaces(sectionIndex)}>
        Pick faces
      </button>
    );
  }
  return <Picking section={section} data={data} pick={pick} />;
}

function Picking({ section, data, pick }: CutCardProps & { data: Section; pick: FacePick }) {
  const workbench = useWorkbench();
  const { editor, session, preparing } = workbench;
  const [name, setName] = useState(`${section.sectionName} part`);
  const mesh = getSectionMesh(editor.character, pick.sectionIndex);
  const count = pick.isPicked.reduce((sum, one) => sum + one, 0);
  const set = (update: Partial<FacePick>): void => session.set({ pick: { ...pick, ...update } });
  const cut = async (): Promise<void> => {
    const packed = packPicked(editor.character, pick.sectionIndex, pick.isPicked);
    await runPreparation(() => preparing.cut(section, name.trim(), packed));
  };
  return (
    <>
      <Choice
        label="Tool"
        value={pick.tool}
        options={[
          { value: 'brush', label: 'Brush' },
          { value: 'lasso', label: 'Lasso' },
        ]}
        onChange={(tool) => set({ tool })}
      />
      <p className="mt-1 text-xs text-soft">
        {pick.tool === 'brush'
          ? 'Brush over the mesh; drag beside it to turn the view.'
          : 'Draw a line around what to pick; hold T and drag to turn the view.'}
      </p>
      {pick.tool === 'brush' ? (
        <SizeRow label="Brush" value={pick.radius} onChange={(radius) => set({ radius })} />
      ) : (
        <label className="mt-1 flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-teal"
            checked={pick.isThrough}
            onChange={() => set({ isThrough: !pick.isThrough })}
          />
          What lies behind, too
        </label>
      )}
      <div className="mt-1 flex flex-wrap gap-1.5">
        <ToggleChip label="Deselect" isOn={pick.isErasing} onToggle={(isErasing) => set({ isErasing })} />
        {WIDENINGS.map(({ label, hint, apply }) => (
          <button
            key={label}
            type="button"
            className="chip"
            title={hint}
            onClick={() => set({ isPicked: apply(mesh, pick.isPicked) })}
          >
            {label}
          </button>
        ))}
      </div>
      <JointPicker data={data} mesh={mesh} onPick={(isPicked) => set({ isPicked })} pick={pick} />
      <PickedCost mesh={mesh} isPicked={pick.isPicked} />
      <label className="mt-1.5 flex items-center gap-1.5">
        Name
        <input
          className="field min-w-0 flex-1"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <div className="mt-1.5 flex gap-1.5">
        <button
          type="button"
          className="btn btn-main"
          disabled={count === 0 || count === pick.isPicked.length || name.trim() === ''}
          onClick={() => void cut()}
        >
          Cut out
        </button>
        <button type="button" className="btn" onClick={() => session.set({ pick: null })}>
          Leave
        </button>
      </div>
    </>
  );
}

interface JointPickerProps {
  data: Section;
  mesh: CheckedMesh;
  pick: FacePick;
  onPick(isPicked: Uint8Array): void;
}

/** Adds the faces that follow one joint most. */
function JointPicker({ data, mesh, pick, onPick }: JointPickerProps) {
  const { editor } = useWorkbench();
  const { joints } = editor.character.skins[data.skin]!;
  const dominant = Array.from(mesh.triangleOfFace, (t) => findDominant(data, t));
  const names = [...new Set(dominant)]
    .map((joint) => ({ joint, name: editor.character.skeleton.names[joints[joint]!]! }))
    .sort((p, q) => (p.name < q.name ? -1 : 1));
  return (
    <label className="mt-1.5 flex items-center gap-1.5">
      Add by joint
      <select
        className="field min-w-0 flex-1"
        value=""
        onChange={(event) => {
          const joint = Number(event.target.value);
          onPick(pick.isPicked.map((one, f) => (one || dominant[f] === joint ? 1 : 0)));
        }}
      >
        <option value="" disabled>
          choose
        </option>
        {names.map(({ joint, name }) => (
          <option key={joint} value={joint}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The joint with the largest weight over the corners of a triangle. */
function findDominant(
  { triangles, influences, jointIndices, jointWeights }: Section,
  triangle: number,
): number {
  const sums = new Map<number, number>();
  for (let k = 0; k < 3; k++) {
    const v = influences * triangles[3 * triangle + k]!;
    for (let i = v; i < v + influences; i++)
      sums.set(jointIndices[i]!, (sums.get(jointIndices[i]!) ?? 0) + jointWeights[i]!);
  }
  let best = 0;
  let most = -1;
  for (const [joint, sum] of sums) if (sum > most) [best, most] = [joint, sum];
  return best;
}

/** What would be simulated, at what a point of the selected garment costs on the target. */
function PickedCost({ mesh, isPicked }: { mesh: CheckedMesh; isPicked: Uint8Array }) {
  const workbench = useWorkbench();
  const clipCost = useClipCost();
  const layout = useStore(workbench.preview.store, (state) => state.layout);
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const points = new Set<number>();
  for (let i = 0; i < mesh.faces.length; i++) if (isPicked[Math.floor(i / 3)]) points.add(mesh.faces[i]!);
  const now = clipCost?.mean.garments.find((garment) => garment.garmentId === garmentId);
  const simulated = layout?.garments.find(({ id }) => id === garmentId)?.pointCount;
  const cost = now && simulated ? (now.total * points.size) / simulated : null;
  return (
    <p className="num mt-1.5 text-xs" data-picked={points.size}>
      {points.size.toLocaleString('en')} of {tellVertices(mesh.pointCount)}
      {cost !== null && ` · about ${cost.toFixed(2)} ms`}
    </p>
  );
}
