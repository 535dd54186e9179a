import { Plus } from 'lucide-react';
import type { RefObject } from 'react';
import { type GarmentRecord, listFreeSections, listGarments } from '../../../core/document/index.ts';
import type { Finding } from '../../state/findings.ts';
import { useStore } from '../../state/store.ts';
import { useDocument, useWorkbench, type Workbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';
import { ToggleChip } from '../parts/ToggleChip.tsx';
import { toggleCharacter, toggleLowDetail } from './commands/view-commands.ts';
import { GarmentList } from './GarmentList.tsx';
import { NextHint } from './NextHint.tsx';

export interface GarmentSidebarProps {
  viewport: RefObject<Viewport | null>;
}

/** Garments from the skin outward, what is wrong with the selected one, and what is drawn. */
export function GarmentSidebar({ viewport }: GarmentSidebarProps) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const garments = listGarments(editor.document);
  const selected = garments.find((garment) => garment.id === garmentId);
  return (
    <aside
      className="flex h-full flex-col gap-3 overflow-hidden p-3.5 [@media(max-height:620px)]:overflow-y-auto [@media(max-height:620px)]:pb-0"
      aria-label="Garments"
    >
      <section className="scroll-hint max-h-[55%] shrink-0 overflow-y-auto [@media(max-height:620px)]:max-h-none">
        <div className="mb-2 flex items-center justify-between">
          <h2 className="heading">Garments</h2>
          <button
            type="button"
            className="btn !px-1.5 !py-0.5"
            title="Make a section a garment"
            aria-label="Add a garment"
            onClick={() => workbench.session.set({ stage: 'garment' })}
          >
            <Plus size={14} />
          </button>
        </div>
        <GarmentList garments={garments} selectedId={garmentId} />
        {garments.length === 0 ? (
          <p className="text-soft">No garment yet.</p>
        ) : (
          <p className="mt-1.5 text-xs text-soft">Innermost first. Drag to reorder.</p>
        )}
      </section>
      <NextHint />
      {selected && <FindingsList garment={selected} viewport={viewport} />}
      <ViewChips />
    </aside>
  );
}

/** How bad a finding is, besides the colour at its left. */
const SEVERITY_WORDS: Record<Finding['severity'], string> = {
  severe: '◆ severe',
  warning: '▲ warning',
  note: '· note',
};

function FindingsList({ garment, viewport }: { garment: GarmentRecord } & GarmentSidebarProps) {
  const workbench = useWorkbench();
  const findings = useStore(workbench.findings.store, () => workbench.findings.get(garment.id));
  const isRunning = useStore(workbench.trial.store, (state) => state.isRunning);
  const isMeasured = useStore(workbench.trial.store, (state) => state.frames.length > 0);
  const go = (finding: Finding): void => {
    workbench.session.set({ stage: finding.stage });
    if (finding.points) markPoints(workbench, garment, finding);
    if (!finding.at) return;
    workbench.playback.seek(finding.at.time);
    viewport.current?.framePosition(finding.at.position);
  };
  const tones = { severe: 'border-brick', warning: 'border-marigold', note: 'border-rim' };
  return (
    <section
      aria-label="Findings"
      className="flex min-h-[88px] flex-1 flex-col [@media(max-height:620px)]:flex-none"
    >
      <h2
        className="heading mb-2 flex min-w-0 items-center gap-1.5"
        title={`Findings of ${garment.name} alone`}
      >
        <span className="truncate">Findings of {garment.name}</span>
        <span
          className={`rounded-full px-1.5 text-[11px] leading-[16px] font-bold ${findings.some((finding) => finding.severity === 'severe') ? 'bg-brick text-on-accent' : 'bg-line text-ink'}`}
        >
          {findings.length}
        </span>
        {isRunning && <span className="font-normal">measuring…</span>}
      </h2>
      {findings.length === 0 && <p className="text-soft">No issues{isMeasured ? ' on this clip' : ''}</p>}
      <ul className="scroll-hint flex min-h-0 flex-col gap-1.5 overflow-y-auto">
        {findings.map((finding) => (
          <li key={finding.kind}>
            <button
              type="button"
              className={`w-full border-l-[3px] bg-surface py-1.5 pr-2 pl-2.5 text-left ${tones[finding.severity]}`}
              onClick={() => go(finding)}
            >
              <span className="flex items-start gap-2">
                <span className="min-w-0 flex-1 font-semibold">{finding.title}</span>
                <span className="text-[11px] leading-[18px] whitespace-nowrap text-soft">
                  {SEVERITY_WORDS[finding.severity]}
                </span>
              </span>
              <span className="block text-xs text-soft">{finding.details}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Marks the points of a finding and turns the eye to them. */
function markPoints({ session, reach }: Workbench, garment: GarmentRecord, { kind, points }: Finding): void {
  const mesh = reach.reachMesh?.mesh;
  if (!mesh || !points) return;
  const vertices = Uint32Array.from(points, (point) => mesh.vertexOfPoint[point]!);
  session.set({ channel: 'maxDistance', marks: { kind, sectionIndex: garment.sectionIndex, vertices } });
}

function ViewChips() {
  const workbench = useWorkbench();
  const { session, editor } = workbench;
  useDocument();
  const { visibility, isClay, showBodies, stage, showTriangles, showWhiskers, lightDrawing } = useStore(
    session,
    ({ visibility, isClay, showBodies, stage, showTriangles, showWhiskers, lightDrawing }) => ({
      isClay,
      visibility,
      showBodies,
      stage,
      showTriangles,
      showWhiskers,
      lightDrawing,
    }),
  );
  const [first = -1] = listFreeSections(editor.document, editor.character.sections);
  const shown = visibility.get(first) ?? 'shown';
  return (
    <section
      aria-label="View"
      className="mt-auto shrink-0 bg-panel [@media(max-height:620px)]:sticky [@media(max-height:620px)]:bottom-0 [@media(max-height:620px)]:py-1.5"
    >
      <h2 className="heading mb-2 [@media(max-height:620px)]:sr-only">View</h2>
      <div className="flex flex-wrap gap-1.5 [@media(max-height:620px)]:gap-1 [@media(max-height:620px)]:text-xs">
        <ToggleChip
          label="Character"
          isOn={shown === 'shown'}
          onToggle={() => toggleCharacter(workbench, 'hidden')}
        />
        <ToggleChip
          label="See-through"
          hint="The character's own sections faint, so that what lies beneath is seen"
          isOn={shown === 'ghost'}
          onToggle={() => toggleCharacter(workbench, 'ghost')}
        />
        <ToggleChip
          label="Clay"
          hint="Plain, without the colours and images of the file"
          isOn={isClay}
          onToggle={() => session.set({ isClay: !isClay })}
        />
        <ToggleChip
          label="Collision bodies"
          hint="What the cloth stays out of, on the joints"
          isOn={showBodies || stage === 'bodies'}
          onToggle={() => session.set({ showBodies: !showBodies })}
        />
        <ToggleChip
          label="Triangles"
          hint="The real triangles, as they are drawn"
          isOn={showTriangles}
          onToggle={() => session.set({ showTriangles: !showTriangles })}
        />
        <ToggleChip
          label="Whiskers"
          hint="Thin lines from the skinned place outward, as long as a vertex may go"
          isOn={showWhiskers}
          onToggle={() => session.set({ showWhiskers: !showWhiskers })}
        />
        <ToggleChip
          label="Low-detail view"
          isOn={lightDrawing}
          hint="Coarser edges, for slow machines"
          onToggle={() => toggleLowDetail(workbench)}
        />
      </div>
    </section>
  );
}
