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
import type { SimMeshFigures } from '../../../workers/prepare-protocol.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';
import { MeshHealth } from './MeshHealth.tsx';
import { measureSpacing } from './measure-spacing.ts';

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
  const [target, setTarget] = useState<SimMeshSettings>(built ?? SETTINGS);
  const apply = (settings: SimMeshSettings): void =>
    void runPreparation(() => preparing.simMeshes.make(garment, settings)).then((isDone) => {
      // Cancelled: the controls show what is there.
      if (!isDone && built) setTarget(built);
    });
  useRebuild(target, built, apply);
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
          hint="Wished length of all edges. Half of it makes four times the points."
          isLogarithmic
          onChange={(value) => setTarget({ ...target, edgeLength: value / 100 })}
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
          onChange={(value) => setTarget({ ...target, borderDetail: value / 100 })}
        />
      </div>
      {isApart ? (
        <button
          type="button"
          className="btn mt-1"
          onClick={() => void runPreparation(() => preparing.simMeshes.drop(garment))}
        >
          Simulate the drawn mesh again
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
      {section && <Figures garment={garment} edgeLength={built?.edgeLength ?? null} />}
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

/** Once there is a sim mesh, moving a control makes it anew. */
function useRebuild(
  target: SimMeshSettings,
  built: SimMeshSettings | null,
  apply: (settings: SimMeshSettings) => void,
): void {
  const isOther =
    built !== null && (built.edgeLength !== target.edgeLength || built.borderDetail !== target.borderDetail);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another wish starts the clock anew
  useEffect(
    function rebuildAtRest() {
      if (!isOther) return;
      const timer = setTimeout(() => apply(target), REST_MS);
      return () => clearTimeout(timer);
    },
    [target, isOther],
  );
}

function Figures({ garment, edgeLength }: { garment: GarmentRecord; edgeLength: number | null }) {
  const { editor, preparing, session } = useWorkbench();
  const clip = useStore(session, (state) => state.clip);
  const [figures, setFigures] = useState<SimMeshFigures | null>(null);
  const section = editor.character.sections[findSection(editor.character, garment)]!;
  const { renders, sectionIndex, sectionName } = garment;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a garment's record is another object after every change of it
  useEffect(
    function measure() {
      let isCurrent = true;
      preparing.client.measure({ section: { sectionIndex, sectionName }, renders, clip, edgeLength }).then(
        (measured) => isCurrent && setFigures(measured),
        () => isCurrent && setFigures(null),
      );
      return () => {
        isCurrent = false;
      };
    },
    [preparing, section, renders.length, clip],
  );
  const { points, triangles } = measureSpacing(section);
  const cm = (value: number): string => (100 * value).toFixed(1);
  const mm = (value: number): string => `${(1000 * value).toFixed(value < 1e-4 ? 4 : 1)} mm`;
  const facts: [string, string][] = [
    ['Simulated points', points.toLocaleString('en')],
    ['Triangles', triangles.toLocaleString('en')],
  ];
  if (figures) {
    facts.push(['Spacing', `${cm(figures.spacing)} cm`]);
    facts.push(['Nine in ten edges', `${cm(figures.shortEdge)} to ${cm(figures.longEdge)} cm`]);
    if (figures.withinTarget !== null)
      facts.push(['Near wished length', `${(100 * figures.withinTarget).toFixed(1)} %`]);
    facts.push(['Smallest angle', `${figures.smallestAngle.toFixed(0)}°`]);
    facts.push(['99 % above', `${figures.smallestAngleP99.toFixed(0)}°`]);
  }
  if (figures && renders.length > 0) {
    if (figures.borderDeviation !== null) facts.push(['Border off by', mm(figures.borderDeviation)]);
    facts.push(['Bind pose off by', mm(figures.binding.inBindPose)]);
    if (clip !== null) {
      const { name } = editor.character.clips[clip]!;
      facts.push(
        [`95 % over ${name}`, mm(figures.binding.p95)],
        [`Worst over ${name}`, mm(figures.binding.worst)],
      );
    }
  }
  return (
    <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1" aria-label="Figures">
      {facts.map(([label, value]) => (
        <div key={label} className="contents">
          <dt className="text-soft">{label}</dt>
          <dd className="num truncate text-right text-xs leading-[18px]">{value}</dd>
        </div>
      ))}
    </dl>
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
