import { Pencil, Scissors, Shirt, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { type GarmentRecord, listFreeSections, listGarments } from '../../../../core/document/index.ts';
import { tellCount, tellVertices } from '../../../../core/math/index.ts';
import { findSection, type Section } from '../../../../core/rig/index.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { NameEditor } from '../../parts/NameEditor.tsx';
import { toastUndo } from '../../parts/toast-undo.ts';
import { BodyShapeCard } from './BodyShapeCard.tsx';
import { CutCard } from './CutCard.tsx';
import { FitCard } from './FitCard.tsx';
import { LayersCard } from './LayersCard.tsx';
import { LiningCard } from './LiningCard.tsx';
import { MeshHealth } from './MeshHealth.tsx';
import { measureSpacing } from './measure-spacing.ts';
import { StepList } from './StepList.tsx';
import { WeightPaintCard } from './WeightPaintCard.tsx';
import { WeightsCard } from './WeightsCard.tsx';

/** Makes sections garments; shows and names the selected one. */
export function GarmentPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const selected = listGarments(editor.document).find((garment) => garment.id === garmentId);
  const isBound = selected !== undefined && findSection(editor.character, selected) >= 0;
  const free = listFreeSections(editor.document, editor.character.sections);
  const { hand, pick, drapedId } = useStore(workbench.session, (session) => session);
  if (hand || pick || drapedId) return <VertexEdits garment={selected ?? null} />;
  const make = (index: number): void => {
    workbench.selectGarment(editor.addGarment(index));
  };
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Garment</h1>
      {selected && <SelectedGarment garment={selected} />}
      {selected && isBound && <Preparation garment={selected} />}
      <h2 className="heading mt-5 mb-1">Make a garment of</h2>
      {free.length === 0 && <p className="text-soft">Every section is a garment already.</p>}
      <ul className="flex flex-col gap-1.5" data-tour="free-sections">
        {free.map((index) => {
          const section = editor.character.sections[index]!;
          return (
            <li key={section.name} className="card flex items-center gap-2 px-2.5 py-1.5">
              <span className="min-w-0 flex-1">
                <span className="block truncate font-semibold">{section.name}</span>
                <span className="text-xs text-soft">
                  {tellCount(section.triangles.length / 3, 'triangle')}
                </span>
              </span>
              <button
                type="button"
                className="btn btn-quiet !px-1"
                aria-label={`Pick a part of ${section.name}`}
                title="Cut a part of it off"
                onClick={() => workbench.pickFaces(index)}
              >
                <Scissors size={14} />
              </button>
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
        The section's own vertices are simulated; those in the same place, which a seam in the UVs splits,
        count as one. It starts out held everywhere.
      </p>
    </>
  );
}

/** While something is worked on by hand, the panel holds what that needs and nothing else. */
function VertexEdits({ garment }: { garment: GarmentRecord | null }) {
  const { editor, session } = useWorkbench();
  const { hand, pick } = useStore(session, (state) => state);
  if (pick) {
    const section = {
      sectionIndex: pick.sectionIndex,
      sectionName: editor.character.sections[pick.sectionIndex]!.name,
    };
    return (
      <>
        <h1 className="text-[20px] font-semibold tracking-tight">Cut a part off</h1>
        <p className="mb-2 truncate text-soft">{section.sectionName}</p>
        <CutCard section={section} />
      </>
    );
  }
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">
        {hand?.kind === 'weights' ? 'Skin weights' : 'Fit'}
      </h1>
      <p className="mb-2 truncate text-soft">{hand?.bound.section.name ?? garment?.name}</p>
      {hand?.kind === 'weights' && <WeightPaintCard work={hand} />}
      {hand?.kind !== 'weights' && garment && <FitCard garment={garment} />}
    </>
  );
}

/** What is drawn of a garment, made fit for work. */
function Preparation({ garment }: { garment: GarmentRecord }) {
  const section = garment.renders[0] ?? garment;
  return (
    <>
      <h2 className="heading mt-5 mb-1.5">Mesh health</h2>
      <MeshHealth section={section} />
      <h2 className="heading mt-5 mb-1">Skin weights</h2>
      <WeightsCard section={section} />
      <h2 className="heading mt-5 mb-1">Fit</h2>
      <FitCard garment={garment} />
      <BodyShapeCard section={section} />
      {garment.renders.length === 0 && (
        <>
          <h2 className="heading mt-5 mb-1">Cut a part off</h2>
          <CutCard section={section} />
        </>
      )}
      <h2 className="heading mt-5 mb-1">Steps replayed on the file</h2>
      <StepList />
    </>
  );
}

function SelectedGarment({ garment }: { garment: GarmentRecord }) {
  const editor = useDocument();
  const [isNaming, setIsNaming] = useState(false);
  const section = editor.character.sections[findSection(editor.character, garment.renders[0] ?? garment)];
  const remove = (): void => {
    editor.removeGarment(garment);
    toastUndo(editor, `Removed the garment ${garment.name}`);
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
      {section && <p className="mt-1 text-xs text-soft">{describe(section, garment)}</p>}
      {section && <LiningCard garment={garment} />}
      {section && <LayersCard garment={garment} />}
    </div>
  );
}

function describe(section: Section, garment: GarmentRecord): string {
  const { points, triangles, median } = measureSpacing(section);
  const count = (value: number): string => value.toLocaleString('en');
  const inFile = section.positions.length / 3;
  const split = inFile > points ? ` (${count(inFile)} in the file, where seams split them)` : '';
  const mesh = `${section.name}: ${tellVertices(points)}${split}, ${tellCount(triangles, 'triangle')}, ${(100 * median).toFixed(1)} cm apart`;
  return garment.renders.length > 0 ? `${mesh}; drawn over a sim mesh` : mesh;
}
