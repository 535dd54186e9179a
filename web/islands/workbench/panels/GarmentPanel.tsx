import { Pencil, Shirt, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import {
  findChannel,
  type GarmentRecord,
  listFreeSections,
  listGarments,
} from '../../../../core/document/index.ts';
import { buildEdgeTable, weldPoints, weldTriangles } from '../../../../core/mesh/index.ts';
import type { Section } from '../../../../core/rig/index.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { NameEditor } from '../../parts/NameEditor.tsx';

/** Makes sections garments; shows and names the selected one. */
export function GarmentPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const selected = listGarments(editor.document).find((garment) => garment.id === garmentId);
  const free = listFreeSections(editor.document, editor.character.sections);
  const make = (index: number): void => {
    workbench.selectGarment(editor.addGarment(index));
  };
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Garment</h1>
      {selected && <SelectedGarment garment={selected} />}
      <h2 className="heading mt-5 mb-1">Make a garment of</h2>
      {free.length === 0 && <p className="text-soft">Every section is a garment already.</p>}
      <ul className="flex flex-col gap-1.5">
        {free.map((index) => {
          const section = editor.character.sections[index]!;
          return (
            <li key={section.name} className="card flex items-center gap-2 px-2.5 py-1.5">
              <span className="min-w-0 flex-1">
                <span className="block truncate font-semibold">{section.name}</span>
                <span className="text-xs text-soft">
                  {(section.triangles.length / 3).toLocaleString('en')} triangles
                </span>
              </span>
              <button
                type="button"
                className="btn"
                aria-label={`Make ${section.name} a garment`}
                onClick={() => make(index)}
              >
                <Shirt size={14} /> Make
              </button>
            </li>
          );
        })}
      </ul>
      <p className="mt-2 text-xs text-soft">
        The section's own points are simulated; vertices that share a place share a point. It starts out held
        everywhere.
      </p>
    </>
  );
}

function SelectedGarment({ garment }: { garment: GarmentRecord }) {
  const editor = useDocument();
  const [isNaming, setIsNaming] = useState(false);
  const section = editor.character.sections[garment.sectionIndex];
  const remove = (): void => {
    editor.removeGarment(garment);
    toast(`Removed the garment ${garment.name}`, { action: { label: 'Undo', onClick: () => editor.undo() } });
  };
  return (
    <div className="card mt-3 p-3">
      <div className="flex min-h-7 items-center gap-1">
        {isNaming ? (
          <NameEditor
            name={garment.name}
            label="Name of the garment"
            onDone={(name) => {
              setIsNaming(false);
              if (name) editor.updateRecord('Rename garment', garment, { name });
            }}
          />
        ) : (
          <b className="min-w-0 flex-1 truncate text-[15px]">{garment.name}</b>
        )}
        <button
          type="button"
          className="btn btn-quiet !px-1"
          aria-label={`Rename ${garment.name}`}
          title="Rename"
          onClick={() => setIsNaming(true)}
        >
          <Pencil size={14} />
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1"
          aria-label={`Remove garment ${garment.name}`}
          title="Remove; the section follows its joints again"
          onClick={remove}
        >
          <Trash2 size={14} />
        </button>
      </div>
      {section && (
        <SimMeshFacts
          section={section}
          pointCount={findChannel(editor.document, garment.id)?.pointCount ?? 0}
        />
      )}
    </div>
  );
}

interface Spacing {
  triangles: number;
  edges: number;
  /** Metres. */
  median: number;
  spread: number;
}

const spacingOfSection = new WeakMap<Section, Spacing>();

/** Spacing of the points: the median edge, and the 95th over the 5th percentile. */
function measureSpacing(section: Section): Spacing {
  const known = spacingOfSection.get(section);
  if (known) return known;
  const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(section.positions);
  const triangles = weldTriangles(section.triangles, pointOfVertex);
  const { edges, edgeCount } = buildEdgeTable(triangles, pointCount);
  const p = section.positions;
  const lengths = Float64Array.from({ length: edgeCount }, (_, e) => {
    const a = 3 * vertexOfPoint[edges[2 * e]!]!;
    const b = 3 * vertexOfPoint[edges[2 * e + 1]!]!;
    return Math.hypot(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
  }).sort();
  const at = (share: number): number => lengths[Math.min(edgeCount - 1, Math.floor(share * edgeCount))] ?? 0;
  const spacing = {
    triangles: triangles.length / 3,
    edges: edgeCount,
    median: at(0.5),
    spread: at(0.95) / Math.max(1e-9, at(0.05)),
  };
  spacingOfSection.set(section, spacing);
  return spacing;
}

function SimMeshFacts({ section, pointCount }: { section: Section; pointCount: number }) {
  const { triangles, edges, median, spread } = measureSpacing(section);
  const facts: [string, string][] = [
    ['Section', section.name],
    ['Simulated points', pointCount.toLocaleString('en')],
    ['Render vertices', (section.positions.length / 3).toLocaleString('en')],
    ['Triangles', triangles.toLocaleString('en')],
    ['Edges', edges.toLocaleString('en')],
    ['Spacing', `${(100 * median).toFixed(1)} cm`],
    ['Uneven by', `${spread.toFixed(1)}×`],
  ];
  return (
    <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
      {facts.map(([label, value]) => (
        <div key={label} className="contents">
          <dt className="text-soft">{label}</dt>
          <dd className="num truncate text-right text-xs leading-[18px]">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
