import { useEffect, useState } from 'react';
import {
  type GarmentRecord,
  listBodySections,
  listFreeSections,
  listGarments,
} from '../../../../core/document/index.ts';
import { findSection, type SectionName } from '../../../../core/rig/index.ts';
import type { StepAct } from '../../../../core/steps/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import type { SimMeshSettings } from '../../../state/sim-meshes.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';
import { MeshHealth } from './MeshHealth.tsx';
import { SidesRow } from './SidesRow.tsx';
import { SimMeshFaults, SimMeshFigures, useSimMeshFigures } from './SimMeshFigures.tsx';

const SETTINGS: SimMeshSettings = { edgeLength: 0.03, borderDetail: 0.5 };
/** Pairs of triangles of a card. */
const CARD_ROWS = 2;
/** A control that rests so long has its last value. */
const REST_MS = 350;

/** The mesh that is simulated in place of the drawn one: built, its figures, and how well the drawn one follows. */
export function SimMeshPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId);
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Sim mesh</h1>
      {garment ? (
        <GarmentSimMesh key={garment.id} garment={garment} />
      ) : (
        <p className="mt-2 text-soft">Choose a garment, or make one in the stage Garment.</p>
      )}
    </>
  );
}

function GarmentSimMesh({ garment }: { garment: GarmentRecord }) {
  const { editor, preparing } = useWorkbench();
  const act = preparing.simMeshes.findStep(garment)?.act;
  const isBuilt = act?.kind === 'makeSimMesh';
  const isApart = act !== undefined;
  const built: SimMeshSettings | null = isBuilt ? act : null;
  const section = editor.character.sections[findSection(editor.character, garment)];
  // What a control was set to, until it is built; at rest the controls show what is there, taken back or not.
  const [wished, setWished] = useState<SimMeshSettings | null>(null);
  const target = wished ?? built ?? SETTINGS;
  const apply = (settings: SimMeshSettings): void =>
    void runPreparation(() => preparing.simMeshes.make(garment, settings)).then((isDone) => {
      if (isDone || built) setWished((now) => (now === settings ? null : now));
    });
  useRebuild(wished, built, apply, () => setWished(null));
  const { figures, verdict } = useSimMeshFigures(
    garment,
    built,
    act?.kind === 'makeSimMesh' ? act.others : [],
  );
  return (
    <>
      <p className="mt-1 text-soft">
        {act
          ? `${garment.name} is simulated on ${describeSimulated(act, garment)}; what is drawn follows it.`
          : `${garment.name} is simulated on the mesh that is drawn.`}
      </p>
      <div className={isApart && !isBuilt ? 'hidden' : 'mt-3'}>
        <NumberRow
          label="Edge length"
          value={100 * target.edgeLength}
          unit="cm"
          min={0.5}
          max={20}
          step={0.1}
          digits={1}
          defaultValue={100 * SETTINGS.edgeLength}
          hint="Target length of all edges. Half of it makes four times the vertices."
          isLogarithmic
          onChange={(value) => setWished({ ...target, edgeLength: value / 100 })}
        />
        <NumberRow
          label="Border detail"
          value={100 * target.borderDetail}
          unit="%"
          min={0}
          max={100}
          step={1}
          digits={0}
          defaultValue={100 * SETTINGS.borderDetail}
          hint="How closely hems and openings are followed, with shorter edges where that takes them."
          onChange={(value) => setWished({ ...target, borderDetail: value / 100 })}
        />
      </div>
      {!(isApart && !isBuilt) && verdict && (
        <SidesRow
          verdict={verdict}
          value={target.sides ?? 'judged'}
          onChange={(sides) => setWished({ ...target, sides })}
        />
      )}
      {isBuilt && figures && <SimMeshFaults faults={figures.faults} />}
      {isApart ? (
        <button
          type="button"
          className="btn mt-1"
          onClick={() => void runPreparation(() => preparing.simMeshes.drop(garment))}
        >
          Remove sim mesh
        </button>
      ) : (
        <button
          type="button"
          className="btn btn-main mt-1 w-full justify-center"
          onClick={() => apply(target)}
        >
          Build the sim mesh
        </button>
      )}
      {!isApart && <OtherWays garment={garment} />}
      {section && <SimMeshFigures garment={garment} figures={figures} />}
      {isApart && <DrawnSections garment={garment} />}
      <h2 className="heading mt-4 mb-1.5">Health of the simulated mesh</h2>
      <MeshHealth section={garment} />
    </>
  );
}

function describeSimulated(act: StepAct, garment: GarmentRecord): string {
  if (act.kind === 'makeCard') return `a card of ${2 * act.rows} triangles`;
  return act.kind === 'useAsSimMesh' ? `the section ${garment.sectionName}` : 'a mesh of its own';
}

/** For a small stiff piece a card; for a file that brings a mesh to simulate, that one. */
function OtherWays({ garment }: { garment: GarmentRecord }) {
  const { editor, preparing } = useWorkbench();
  const [rows, setRows] = useState(CARD_ROWS);
  const { sections } = editor.character;
  const body = new Set(listBodySections(editor.document, editor.character));
  const free = listFreeSections(editor.document, sections).filter((index) => !body.has(index));
  return (
    <>
      <details className="mt-2">
        <summary className="cursor-pointer font-semibold">A card instead</summary>
        <p className="mt-1 text-xs text-soft">
          For a small stiff piece that dangles: a flat strip through it is simulated, and the piece rides on
          it.
        </p>
        <NumberRow
          label="Triangles"
          value={2 * rows}
          unit=""
          min={2}
          max={16}
          step={2}
          digits={0}
          defaultValue={2 * CARD_ROWS}
          onChange={(triangles) => setRows(Math.max(1, Math.round(triangles / 2)))}
        />
        <button
          type="button"
          className="btn mt-1"
          onClick={() => void runPreparation(() => preparing.simMeshes.makeCard(garment, rows))}
        >
          Make the card
        </button>
      </details>
      {free.length > 0 && (
        <label className="mt-2 flex items-center gap-1.5">
          Or on a section
          <select
            className="field min-w-0 flex-1"
            value=""
            onChange={(event) => {
              const sectionIndex = Number(event.target.value);
              const sectionName = sections[sectionIndex]!.name;
              void runPreparation(() =>
                preparing.simMeshes.simulateOn(garment, { sectionIndex, sectionName }),
              );
            }}
          >
            <option value="" disabled>
              of the file
            </option>
            {free.map((index) => (
              <option key={index} value={index}>
                {sections[index]!.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  );
}

/** Once there is a sim mesh, moving a control makes it anew; moved back to where it was, it does nothing. */
function useRebuild(
  wished: SimMeshSettings | null,
  built: SimMeshSettings | null,
  apply: (settings: SimMeshSettings) => void,
  drop: () => void,
): void {
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another wish starts the clock anew
  useEffect(
    function rebuildAtRest() {
      if (!wished || !built) return;
      const timer = setTimeout(() => (isSame(wished, built) ? drop() : apply(wished)), REST_MS);
      return () => clearTimeout(timer);
    },
    [wished],
  );
}

function isSame(p: SimMeshSettings, q: SimMeshSettings): boolean {
  return (
    p.edgeLength === q.edgeLength &&
    p.borderDetail === q.borderDetail &&
    (p.sides ?? 'judged') === (q.sides ?? 'judged')
  );
}

/** Which sections are drawn with the sim mesh: patches, pockets and trims follow it too. */
function DrawnSections({ garment }: { garment: GarmentRecord }) {
  const { editor } = useWorkbench();
  const { sections } = editor.character;
  const body = new Set(listBodySections(editor.document, editor.character));
  const free = listFreeSections(editor.document, sections).filter((index) => !body.has(index));
  const [first, ...others] = garment.renders;
  if (free.length === 0 && others.length === 0) return null;
  const choices = [
    ...others,
    ...free.map((sectionIndex) => ({ sectionIndex, sectionName: sections[sectionIndex]!.name })),
  ];
  const toggle = (choice: SectionName): void => {
    const isOn = others.includes(choice);
    const renders = isOn
      ? garment.renders.filter((render) => render !== choice)
      : [...garment.renders, choice];
    editor.updateRecord(`${isOn ? 'Let go' : 'Bind'} ${choice.sectionName}`, garment, { renders });
  };
  return (
    <>
      <h2 className="heading mt-4 mb-1">Follow the sim mesh</h2>
      <ul aria-label="Sections that follow the sim mesh">
        <li className="py-0.5 text-soft">{first!.sectionName}</li>
        {choices.map((choice) => (
          <li key={choice.sectionName} className="py-0.5">
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-teal"
                checked={others.includes(choice)}
                onChange={() => toggle(choice)}
              />
              <span className="truncate">{choice.sectionName}</span>
            </label>
          </li>
        ))}
      </ul>
    </>
  );
}
