import { useState } from 'react';
import { findSection, type Section, type SectionName, toDenseWeights } from '../../../../core/rig/index.ts';
import type { StepAct } from '../../../../core/steps/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { WEIGHT_BAR } from '../../../viewport/weight-colors.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';
import { JointShareRow } from './JointShareRow.tsx';

/** Typical for clothes over a body, see `TRANSFER_DEFAULTS`. */
const TRANSFER = { maxDistance: 0.05, maxAngle: Math.PI / 6 };
/** Joints with less of a garment than this are not listed. */
const LEAST_SHARE = 0.002;

export interface WeightsCardProps {
  section: SectionName;
}

/** Skin weights of a garment: taken from the body, moved between joints, smoothed. */
export function WeightsCard({ section }: WeightsCardProps) {
  const workbench = useWorkbench();
  const { preparing, editor } = workbench;
  useDocument();
  const [distance, setDistance] = useState(100 * TRANSFER.maxDistance);
  const index = findSection(editor.character, section);
  const data = editor.character.sections[index];
  if (!data) return null;
  const add = (label: string, act: StepAct): void =>
    void runPreparation(() => preparing.addStep(`${label}: ${section.sectionName}`, section, act));
  const hasMorphs = editor.character.sections.some((other, i) => i !== index && other.morphs.length > 0);
  return (
    <>
      <NumberRow
        label="Search distance"
        value={distance}
        unit="cm"
        min={0.5}
        max={50}
        step={0.5}
        digits={1}
        defaultValue={100 * TRANSFER.maxDistance}
        hint="Skin farther away than this, or facing another way, is left out: weights are filled in smoothly there."
        isLogarithmic
        onChange={setDistance}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        <button
          type="button"
          className="btn"
          onClick={() =>
            add('Weights from the body', {
              kind: 'transferWeights',
              ...TRANSFER,
              maxDistance: distance / 100,
              influences: 4,
            })
          }
        >
          Weights from body
        </button>
        <button
          type="button"
          className="btn"
          title="Paint, type and try the weights of single joints"
          onClick={() => workbench.weigh(section)}
        >
          Paint weights
        </button>
        <button
          type="button"
          className="btn"
          title="At most four joints for each vertex, none below 1 %, summing to one"
          onClick={() => add('Limit weights', { kind: 'limitWeights', influences: 4, least: 0.01 })}
        >
          Limit to 4
        </button>
        <button
          type="button"
          className="btn"
          title="Blends each vertex half with its neighbours, four times"
          onClick={() => add('Smooth weights', { kind: 'smoothWeights', strength: 0.5, times: 4 })}
        >
          Smooth
        </button>
        {hasMorphs && (
          <button
            type="button"
            className="btn"
            title="Morph targets of the body, so that the garment follows them"
            onClick={() =>
              add('Body shapes', { kind: 'transferMorphs', ...TRANSFER, maxDistance: distance / 100 })
            }
          >
            Take body shapes
          </button>
        )}
      </div>
      <HandOver
        key={section.sectionName}
        section={section}
        data={data}
        onApply={(act) => add('Move weight', act)}
      />
    </>
  );
}

interface HandOverProps extends WeightsCardProps {
  data: Section;
  onApply(act: StepAct): void;
}

/** Which joints keep their weight, and which takes that of all others. */
function HandOver({ data, onApply }: HandOverProps) {
  const { editor } = useWorkbench();
  const joints = listJoints(editor.character.skins[data.skin]!.joints, editor.character.skeleton.names, data);
  const [dropped, setDropped] = useState<ReadonlySet<string>>(new Set());
  const [to, setTo] = useState<string | null>(null);
  const target = to ?? joints[0]?.name ?? '';
  const toggle = (name: string): void => {
    const next = new Set(dropped);
    if (!next.delete(name)) next.add(name);
    setDropped(next);
  };
  const apply = (): void => {
    const keptJoints = joints.map(({ name }) => name).filter((name) => !dropped.has(name));
    onApply({ kind: 'handOverWeights', keptJoints, toJoint: target });
    setDropped(new Set());
  };
  return (
    <details className="mt-2">
      <summary className="cursor-pointer font-semibold">Joints ({joints.length})</summary>
      <p className="mt-1 text-xs text-soft">Unpin the joints whose weight should move to another.</p>
      <ul className="mt-1 max-h-[176px] overflow-y-auto pr-1" aria-label="Joints that keep their weight">
        {joints.map(({ name, share }) => (
          <JointShareRow
            key={name}
            name={name}
            share={share}
            mostShare={joints[0]!.share}
            color={WEIGHT_BAR}
            isKept={!dropped.has(name)}
            onToggleKept={() => toggle(name)}
          />
        ))}
      </ul>
      <div className="mt-1.5 flex items-center gap-1.5">
        <label className="flex min-w-0 flex-1 items-center gap-1.5">
          to
          <select
            className="field min-w-0 flex-1"
            value={target}
            onChange={(event) => setTo(event.target.value)}
          >
            {joints.map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
        <button type="button" className="btn" disabled={dropped.size === 0} onClick={apply}>
          Move weight
        </button>
      </div>
    </details>
  );
}

/** Joints with a share in a section, largest first. */
function listJoints(
  nodes: Uint32Array,
  names: readonly string[],
  section: Section,
): { name: string; share: number }[] {
  const dense = toDenseWeights(section, nodes.length);
  const count = Math.max(1, section.positions.length / 3);
  const sums = new Float64Array(nodes.length);
  for (let i = 0; i < dense.length; i++) sums[i % nodes.length] = sums[i % nodes.length]! + dense[i]!;
  return Array.from(nodes, (node, j) => ({ name: names[node]!, share: sums[j]! / count }))
    .filter(({ share }) => share >= LEAST_SHARE)
    .sort((p, q) => q.share - p.share);
}
