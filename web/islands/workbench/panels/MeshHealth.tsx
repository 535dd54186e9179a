import { Crosshair, Wrench } from 'lucide-react';
import { getScene } from '../../../../core/document/index.ts';
import { completeLimits, type MeshFinding, type MeshFix } from '../../../../core/mesh/index.ts';
import { findSection, type SectionName } from '../../../../core/rig/index.ts';
import type { StepAct } from '../../../../core/steps/index.ts';
import { MESH_TITLES } from '../../../state/findings.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench, type Workbench } from '../../../state/workbench.ts';
import { ToggleChip } from '../../parts/ToggleChip.tsx';
import { HealthLimits } from './HealthLimits.tsx';
import { measureSpacing } from './measure-spacing.ts';

const FIX_LABELS: Record<MeshFix, string> = {
  weld: 'Weld',
  dropFaces: 'Repair',
  turnFaces: 'Flip',
  joinRows: 'Join rows',
  evenOut: 'Even out',
  splitPieces: 'Split off',
  alignDiagonals: 'Align',
  restInPose: 'Use this pose as rest shape',
  mendNormals: 'Repair',
  pushOut: 'Push out',
};

/** Those that change nothing but what is broken, in the order in which they do not undo each other. */
const SURE_FIXES: readonly MeshFix[] = [
  'weld',
  'dropFaces',
  'turnFaces',
  'splitPieces',
  'alignDiagonals',
  'joinRows',
  'mendNormals',
];

/** Distance from the skin that sunk points are moved to, m. */
const PUSH_OFFSET = 0.004;

export interface MeshHealthProps {
  section: SectionName;
}

/** What is wrong with the mesh of a section: shown on it, framed, and mended. */
export function MeshHealth({ section }: MeshHealthProps) {
  return (
    <>
      <MeshFindings section={section} />
      <HealthLimits />
    </>
  );
}

function MeshFindings({ section }: MeshHealthProps) {
  const workbench = useWorkbench();
  useDocument();
  useStore(workbench.health.store, (state) => state);
  const findings = workbench.health.get(section);
  if (!findings) return <p className="text-soft">Checking the mesh…</p>;
  if (findings.length === 0) return <p className="text-soft">Nothing is wrong with this mesh.</p>;
  const sure = SURE_FIXES.filter((fix) => findings.some((finding) => finding.fix === fix));
  const mendAll = async (): Promise<void> => {
    for (const fix of sure) if (!(await mend(workbench, section, fix))) return;
  };
  return (
    <>
      {sure.length > 1 && (
        <button
          type="button"
          className="btn btn-main mb-2 w-full justify-center"
          onClick={() => void mendAll()}
        >
          <Wrench size={14} /> Repair all {sure.length} that are plainly broken
        </button>
      )}
      <ul className="flex flex-col gap-1.5" aria-label="Mesh health">
        {findings.map((finding) => (
          <FindingRow key={finding.kind} finding={finding} section={section} />
        ))}
      </ul>
    </>
  );
}

const TONES = { severe: 'border-brick', warning: 'border-marigold', note: 'border-rim' };

function FindingRow({ finding, section }: MeshHealthProps & { finding: MeshFinding }) {
  const workbench = useWorkbench();
  const marks = useStore(workbench.session, (session) => session.marks);
  const sectionIndex = findSection(workbench.editor.character, section);
  const isShown = marks?.kind === finding.kind && marks.sectionIndex === sectionIndex;
  const { kind, vertices, fix } = finding;
  const show = (): void =>
    workbench.session.set({ marks: isShown ? null : { kind, sectionIndex, vertices } });
  return (
    <li className={`border-l-[3px] bg-surface py-1.5 pr-2 pl-2.5 ${TONES[finding.severity]}`}>
      <div className="flex items-center gap-1">
        <span className="min-w-0 flex-1 leading-tight font-semibold">
          {MESH_TITLES[kind]} <span className="num text-xs font-normal text-soft">{finding.count}</span>
        </span>
        {vertices.length > 0 && (
          <ToggleChip
            label={`${isShown ? 'Hide' : 'Show'} ${MESH_TITLES[kind]}`}
            hint={isShown ? 'Hide the marks' : 'Mark them and go there'}
            isOn={isShown}
            onToggle={show}
            className="btn btn-quiet !px-1"
          >
            <Crosshair size={14} className={isShown ? 'text-teal' : ''} />
          </ToggleChip>
        )}
      </div>
      <p className="text-xs text-soft">{finding.sentence}</p>
      <p className="num text-[11px] text-soft">
        {round(finding.measured)}
        {/^[°%]/.test(finding.unit) ? '' : ' '}
        {finding.unit} · limit {round(finding.limit)}
      </p>
      {fix && (
        <button
          type="button"
          className="btn mt-1 !px-1.5 !py-0.5"
          aria-label={`${FIX_LABELS[fix]}: ${MESH_TITLES[kind]}`}
          onClick={() => void mend(workbench, section, fix)}
        >
          {FIX_LABELS[fix]}
        </button>
      )}
    </li>
  );
}

function mend(workbench: Workbench, section: SectionName, fix: MeshFix): Promise<boolean> {
  const { editor, preparing, session } = workbench;
  const { sections, clips } = editor.character;
  const act = (): StepAct => {
    if (fix === 'evenOut') {
      return {
        kind: fix,
        edgeLength: measureSpacing(sections[findSection(editor.character, section)]!).median,
      };
    }
    if (fix === 'dropFaces') {
      const { sliverAngle, severeSliverAngle } = completeLimits(getScene(editor.document).healthLimits);
      return { kind: fix, smallestAngle: (Math.PI * Math.max(sliverAngle, severeSliverAngle)) / 180 };
    }
    if (fix === 'restInPose') return { kind: fix, clipName: clips[session.state.clip ?? 0]?.name ?? '' };
    if (fix === 'pushOut') return { kind: fix, offset: PUSH_OFFSET };
    return { kind: fix };
  };
  return runPreparation(() =>
    preparing.addStep(`${FIX_LABELS[fix]}: ${section.sectionName}`, section, act()),
  );
}

function round(value: number): string {
  return Number(value.toPrecision(3)).toLocaleString('en');
}
