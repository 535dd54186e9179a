import { useMemo, useState } from 'react';
import { listGarments, type MeasureKey } from '../../../../../core/document/index.ts';
import {
  findMoment,
  getMeasure,
  resolveAllLimits,
  type TrialMotion,
} from '../../../../../core/trials/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench, type Workbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { CaseChart } from './CaseChart.tsx';
import {
  countChanges,
  judgeTrial,
  listShownMeasures,
  type TrialCell,
  type TrialLine,
} from './judge-trial.ts';
import { RunCard } from './RunCard.tsx';
import { TrialGrid } from './TrialGrid.tsx';
import { TrialPicker } from './TrialPicker.tsx';

/** Every clip measured on the server: what passes, what fails, where, and what became of it. */
export function TrialsPanel() {
  const { trials } = useWorkbench();
  const { shown, isListed } = useStore(trials.store, (state) => state);
  return (
    <div className="flex h-full flex-col">
      <h1 className="mb-2 text-[20px] font-semibold tracking-tight">Trials</h1>
      <RunCard />
      <TrialPicker />
      {shown ? (
        <ShownTrial />
      ) : (
        isListed && (
          <p className="mt-3 text-soft">
            No trial yet. A trial plays every clip with the garments as they are, and measures each frame:
            skin that shows through, cloth in the skin, layers through one another, stretch, jitter, cost.
          </p>
        )
      )}
    </div>
  );
}

function ShownTrial() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { document, viewRevision } = editor;
  const { shown, earlier } = useStore(workbench.trials.store, (state) => state);
  const [filter, setFilter] = useState<'all' | 'failing'>('all');
  const [picked, setPicked] = useState<{ index: number; key: MeasureKey } | null>(null);
  const { rows, cases } = shown!;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the document is changed in place.
  const lines = useMemo(
    () => judgeTrial(rows, document, earlier?.rows ?? null),
    [rows, document, viewRevision, earlier],
  );
  const measures = listShownMeasures(listGarments(document).length);
  const limits = findStrictestLimits(document);
  const failing = lines.filter(({ passes }) => !passes);
  const changes = earlier && countChanges(lines);
  const pick = (line: TrialLine, cell: TrialCell): void => {
    setPicked({ index: line.index, key: cell.key });
    goThere(workbench, cases[line.index]!.motion, cell);
  };
  const chart = picked && rows[picked.index];
  return (
    <>
      <div className="mt-2.5 flex items-center gap-3 border-t border-line pt-2">
        <p data-failing={failing.length}>
          {failing.length === 0 ? (
            <b className="text-moss">✓ All {lines.length} runs pass</b>
          ) : (
            <b className="text-brick">
              ✕ {failing.length} of {lines.length} {lines.length === 1 ? 'run' : 'runs'}{' '}
              {failing.length === 1 ? 'fails' : 'fail'}
            </b>
          )}
          {changes && (
            <span className="ml-2 text-soft" data-against="">
              {changes.better} better, {changes.worse} worse
            </span>
          )}
        </p>
        <span className="flex-1" />
        <Choice<'all' | 'failing'>
          label="Runs that are listed"
          value={filter}
          look="cells"
          options={[
            { value: 'all', label: 'All' },
            { value: 'failing', label: 'Failing' },
          ]}
          onChange={setFilter}
        />
      </div>
      <div className="mt-1.5 min-h-[120px] flex-1 overflow-y-auto">
        <TrialGrid
          lines={filter === 'all' ? lines : failing}
          rows={rows}
          measures={measures}
          limits={limits}
          picked={picked}
          hasEarlier={earlier !== null}
          onPick={pick}
        />
      </div>
      {chart && (
        <CaseChart
          rows={chart}
          earlier={earlier?.rows.find(({ name }) => name === chart.name) ?? null}
          measure={getMeasure(picked.key)}
          limit={limits.get(picked.key) ?? null}
        />
      )}
    </>
  );
}

function findStrictestLimits(document: Parameters<typeof resolveAllLimits>[0]): Map<MeasureKey, number> {
  const strictest = new Map<MeasureKey, number>();
  for (const limits of resolveAllLimits(document).values())
    for (const [key, limit] of Object.entries(limits) as [MeasureKey, number | null][])
      if (limit !== null) strictest.set(key, Math.min(limit, strictest.get(key) ?? limit));
  return strictest;
}

/** The frame in which a measure was worst, with the place in the middle; of a blend, in the clip that leads then. */
function goThere(workbench: Workbench, motion: TrialMotion, { time, position }: TrialCell): void {
  const { clip, time: at } = findMoment(motion, time, workbench.editor.character);
  if (position) workbench.showPlace(clip, at, position);
  else {
    if (workbench.session.state.clip !== clip) workbench.setClip(clip);
    workbench.playback.seek(at);
  }
}
