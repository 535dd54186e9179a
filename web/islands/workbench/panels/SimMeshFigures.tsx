import { useEffect, useState } from 'react';
import type { GarmentRecord } from '../../../../core/document/index.ts';
import type { SidesVerdict } from '../../../../core/mesh/index.ts';
import { findSection, type SectionName } from '../../../../core/rig/index.ts';
import type { SimMeshSettings } from '../../../state/sim-meshes.ts';
import { useStore } from '../../../state/store.ts';
import { useWorkbench } from '../../../state/workbench.ts';
import type { SimMeshFigures as Figures } from '../../../workers/prepare-protocol.ts';
import { measureSpacing } from './measure-spacing.ts';

export interface MeasuredSimMesh {
  /** Of the mesh as it is now; null until that is known. */
  figures: Figures | null;
  /** Whether what it is made over has two sides, as last known. */
  verdict: SidesVerdict | null;
}

/**
 * What is measured of the mesh that a garment is simulated on, anew when it is another.
 * @param others - Sections that it was made over beside the garment's own.
 */
export function useSimMeshFigures(
  garment: GarmentRecord,
  built: SimMeshSettings | null,
  others: readonly SectionName[],
): MeasuredSimMesh {
  const { editor, preparing, session } = useWorkbench();
  const clip = useStore(session, (state) => state.clip);
  const section = editor.character.sections[findSection(editor.character, garment)];
  const { renders, sectionIndex, sectionName } = garment;
  const [measured, setMeasured] = useState<{ of: readonly unknown[]; figures: Figures } | null>(null);
  const of = [preparing, section, renders.length, clip];
  // biome-ignore lint/correctness/useExhaustiveDependencies: a garment's record is another object after every change of it
  useEffect(
    function measure() {
      let isCurrent = true;
      const own = { sectionIndex, sectionName };
      preparing.client
        .measure({
          section: own,
          renders,
          clip,
          edgeLength: built?.edgeLength ?? null,
          over: [renders[0] ?? own, ...others],
          sides: built?.sides ?? 'judged',
        })
        .then(
          (figures) => isCurrent && setMeasured({ of, figures }),
          () => isCurrent && setMeasured(null),
        );
      return () => {
        isCurrent = false;
      };
    },
    [preparing, section, renders.length, clip],
  );
  const isOfNow = measured?.of.every((part, i) => part === of[i]) ?? false;
  return { figures: isOfNow ? measured!.figures : null, verdict: measured?.figures.verdict ?? null };
}

/** What is wrong with a sim mesh against what is drawn, before anything is done with it; nothing when all is well. */
export function SimMeshFaults({ faults }: { faults: readonly string[] }) {
  if (faults.length === 0) return null;
  return (
    <div role="alert" className="my-1.5 rounded-md border border-brick bg-surface p-2">
      <p className="font-semibold text-brick">This mesh does not stand for what is drawn.</p>
      <ul className="mt-1 list-disc pl-4 text-xs">
        {faults.map((fault) => (
          <li key={fault}>{fault}</li>
        ))}
      </ul>
      <p className="mt-1 text-xs text-soft">A shorter edge length helps where edges are too long for it.</p>
    </div>
  );
}

/** Figures of the mesh that is simulated, and of how well what is drawn follows it. */
export function SimMeshFigures({ garment, figures }: { garment: GarmentRecord; figures: Figures | null }) {
  const { editor, session } = useWorkbench();
  const clip = useStore(session, (state) => state.clip);
  const { points, triangles } = measureSpacing(
    editor.character.sections[findSection(editor.character, garment)]!,
  );
  const facts: Fact[] = [
    ['Simulated vertices', points.toLocaleString('en')],
    ['Triangles', triangles.toLocaleString('en')],
  ];
  if (figures) {
    facts.push(...listFacts(figures));
    if (garment.renders.length > 0)
      facts.push(...listBinding(figures, clip === null ? null : editor.character.clips[clip]!.name));
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

type Fact = [label: string, value: string];

function listFacts(figures: Figures): Fact[] {
  const cm = (value: number): string => (100 * value).toFixed(1);
  const { comparison, withinTarget } = figures;
  const facts: Fact[] = [
    ['Spacing', `${cm(figures.spacing)} cm`],
    ['Nine in ten edges', `${cm(figures.shortEdge)} to ${cm(figures.longEdge)} cm`],
  ];
  if (withinTarget !== null) facts.push(['Edges near target', `${(100 * withinTarget).toFixed(1)} %`]);
  facts.push(['Smallest angle', `${figures.smallestAngle.toFixed(0)}°`]);
  facts.push(['Smallest angle (99 %)', `${figures.smallestAngleP99.toFixed(0)}°`]);
  if (!comparison) return facts;
  const share = ({ made, source }: { made: number; source: number }): string =>
    `${((100 * made) / (source || 1)).toFixed(1)} %`;
  const { pieces, loops, volume, borderDeviation } = comparison;
  facts.push(['Area of what is drawn', share(comparison.area)]);
  if (volume) facts.push(['Volume', share(volume)]);
  facts.push(['Pieces, open borders', `${pieces.made}, ${loops.made}`]);
  facts.push(['Facing away', String(comparison.turned)]);
  facts.push(['Surface off by', tellMillimetres(comparison.deviation)]);
  if (borderDeviation !== null) facts.push(['Border off by', tellMillimetres(borderDeviation)]);
  return facts;
}

function listBinding({ binding }: Figures, clip: string | null): Fact[] {
  const facts: Fact[] = [['Bind pose off by', tellMillimetres(binding.inBindPose)]];
  if (clip === null) return facts;
  return [
    ...facts,
    [`Binding error in ${clip} (95 %)`, tellMillimetres(binding.p95)],
    [`Worst over ${clip}`, tellMillimetres(binding.worst)],
  ];
}

function tellMillimetres(value: number): string {
  return `${(1000 * value).toFixed(value < 1e-4 ? 4 : 1)} mm`;
}
