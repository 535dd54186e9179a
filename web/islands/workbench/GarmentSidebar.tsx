import { Eye, EyeOff, GripVertical, Plus } from 'lucide-react';
import { type RefObject, useState } from 'react';
import {
  findChannel,
  type GarmentRecord,
  listFreeSections,
  listGarments,
  type RecordId,
} from '../../../core/document/index.ts';
import { type Finding, listFindings } from '../../state/findings.ts';
import { useStore } from '../../state/store.ts';
import { useDocument, useWorkbench, type Workbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';
import { FABRIC_DRAG_TYPE } from './panels/FabricLibrary.tsx';
import { setVisibility } from './set-visibility.ts';
import { wearFabric } from './wear-fabric.ts';

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
    <aside className="flex h-full flex-col gap-4 overflow-y-auto p-3.5" aria-label="Garments">
      <section>
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
          <p className="text-soft">
            No garment yet. In the stage <b>Garment</b>, make one of the character's sections a garment.
          </p>
        ) : (
          <p className="mt-1.5 text-xs text-soft">From the skin outward. Drag to reorder.</p>
        )}
      </section>
      {selected && <FindingsList garment={selected} viewport={viewport} />}
      <ViewChips />
    </aside>
  );
}

function GarmentList({ garments, selectedId }: { garments: GarmentRecord[]; selectedId: RecordId | null }) {
  const workbench = useWorkbench();
  const { editor, session } = workbench;
  const stats = useStore(workbench.preview.store, (state) => state.stats);
  const visibility = useStore(session, (state) => state.visibility);
  const [dragged, setDragged] = useState<RecordId | null>(null);
  const move = (id: RecordId, before: RecordId): void => {
    const ids = garments.map((garment) => garment.id).filter((other) => other !== id);
    const from = garments.findIndex((garment) => garment.id === id);
    const to = garments.findIndex((garment) => garment.id === before);
    ids.splice(ids.indexOf(before) + (from < to ? 1 : 0), 0, id);
    editor.reorderGarments(ids);
  };
  return (
    <ul className="flex flex-col gap-1.5">
      {garments.map((garment, index) => {
        const points = findChannel(editor.document, garment.id)?.pointCount ?? 0;
        const cost = stats?.garments.find(({ id }) => id === garment.id)?.milliseconds;
        const isSelected = garment.id === selectedId;
        const drawn = garment.renders.length > 0 ? garment.renders : [garment];
        const isHidden = drawn.every(({ sectionIndex }) => visibility.get(sectionIndex) === 'hidden');
        return (
          <li
            key={garment.id}
            draggable
            onDragStart={() => setDragged(garment.id)}
            onDragOver={(event) => event.preventDefault()}
            onDragEnd={() => setDragged(null)}
            onDrop={(event) => {
              const fabric = event.dataTransfer.getData(FABRIC_DRAG_TYPE);
              if (fabric) wearFabric(workbench, garment.id, fabric);
              else if (dragged && dragged !== garment.id) move(dragged, garment.id);
            }}
            className={`card flex items-center overflow-hidden ${isSelected ? '!border-teal shadow-[inset_3px_0_0_#13696a]' : ''}`}
          >
            <span className="cursor-grab pl-2 text-[#b9b19d]" aria-hidden>
              <GripVertical size={14} />
            </span>
            <button
              type="button"
              aria-pressed={isSelected}
              className="min-w-0 flex-1 px-1.5 py-1.5 text-left"
              onClick={() => workbench.selectGarment(garment.id)}
              onKeyDown={(event) => {
                // The same as dragging: with Alt, the arrow keys move the garment.
                const other = garments[index + (event.key === 'ArrowDown' ? 1 : -1)];
                if (event.altKey && event.key.startsWith('Arrow') && other) move(garment.id, other.id);
              }}
            >
              <span className="block truncate font-semibold">{garment.name}</span>
              <span className="text-xs text-soft">{points.toLocaleString('en')} points</span>
            </button>
            <span className="flex flex-col items-end pr-2">
              <span className="num text-xs" title="Milliseconds a frame">
                {cost === undefined ? '–' : cost.toFixed(2)}
              </span>
              <button
                type="button"
                className="text-soft"
                aria-label={`${isHidden ? 'Show' : 'Hide'} ${garment.name}`}
                title={isHidden ? 'Show' : 'Hide'}
                onClick={() => {
                  for (const { sectionIndex } of drawn)
                    setVisibility(session, sectionIndex, isHidden ? 'shown' : 'hidden');
                }}
              >
                {isHidden ? <EyeOff size={13} /> : <Eye size={13} />}
              </button>
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function FindingsList({ garment, viewport }: { garment: GarmentRecord } & GarmentSidebarProps) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { frames, isRunning } = useStore(workbench.trial.store, (state) => state);
  useStore(workbench.health.store, (state) => state.checked);
  useStore(workbench.reachWatch.store, (state) => state.warnings);
  const warnings = workbench.reachWatch.get(garment.id);
  const findings = listFindings(editor, garment, frames, workbench.health.get(garment), warnings);
  const go = (finding: Finding): void => {
    workbench.session.set({ stage: finding.stage });
    if (finding.points) markPoints(workbench, garment, finding);
    if (!finding.at) return;
    workbench.playback.seek(finding.at.time);
    viewport.current?.framePlace(finding.at.place);
  };
  const tones = { severe: 'border-brick', warning: 'border-marigold', note: 'border-[#b9b19d]' };
  return (
    <section aria-label="Findings">
      <h2 className="heading mb-2 flex items-center gap-1.5">
        Findings
        <span
          className={`rounded-full px-1.5 text-[11px] leading-[16px] font-bold ${findings.some((finding) => finding.severity === 'severe') ? 'bg-brick text-white' : 'bg-line text-ink'}`}
        >
          {findings.length}
        </span>
        {isRunning && <span className="font-normal">measuring…</span>}
      </h2>
      {findings.length === 0 && (
        <p className="text-soft">
          Nothing wrong is known of this garment{frames.length > 0 ? ' on this clip' : ''}.
        </p>
      )}
      <ul className="flex flex-col gap-1.5">
        {findings.map((finding) => (
          <li key={finding.kind}>
            <button
              type="button"
              className={`w-full border-l-[3px] bg-white py-1.5 pr-2 pl-2.5 text-left ${tones[finding.severity]}`}
              onClick={() => go(finding)}
            >
              <span className="block font-semibold">{finding.title}</span>
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
  const { session, editor } = useWorkbench();
  const state = useStore(session, (all) => all);
  const bodySections = listFreeSections(editor.document, editor.character.sections);
  const bodyVisibility = state.visibility.get(bodySections[0] ?? -1) ?? 'shown';
  const setBody = (visibility: 'shown' | 'ghost' | 'hidden'): void => {
    for (const index of bodySections) setVisibility(session, index, visibility);
  };
  return (
    <section aria-label="View">
      <h2 className="heading mb-2">View</h2>
      <div className="flex flex-wrap gap-1.5">
        <Chip
          label="Body"
          isOn={bodyVisibility === 'shown'}
          onClick={() => setBody(bodyVisibility === 'shown' ? 'hidden' : 'shown')}
        />
        <Chip
          label="Ghost"
          isOn={bodyVisibility === 'ghost'}
          onClick={() => setBody(bodyVisibility === 'ghost' ? 'shown' : 'ghost')}
        />
        <Chip
          label="Bodies"
          isOn={state.showBodies || state.stage === 'bodies'}
          onClick={() => session.set({ showBodies: !state.showBodies })}
        />
        <Chip
          label="Triangles"
          isOn={state.showTriangles}
          onClick={() => session.set({ showTriangles: !state.showTriangles })}
        />
        <Chip
          label="Whiskers"
          isOn={state.showWhiskers}
          onClick={() => session.set({ showWhiskers: !state.showWhiskers })}
        />
        <Chip
          label="Light drawing"
          isOn={state.lightDrawing}
          title="Coarser edges, for slow machines"
          onClick={() => {
            session.set({ lightDrawing: !state.lightDrawing });
            localStorage.setItem('light-drawing', state.lightDrawing ? 'off' : 'on');
          }}
        />
      </div>
    </section>
  );
}

function Chip({
  label,
  isOn,
  title,
  onClick,
}: {
  label: string;
  isOn: boolean;
  title?: string;
  onClick(): void;
}) {
  return (
    <button type="button" className="chip" aria-pressed={isOn} title={title} onClick={onClick}>
      {label}
    </button>
  );
}
