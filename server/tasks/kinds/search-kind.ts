import { changeVariables, proposePoints, scoreRows, toValue } from '../../../core/search/index.ts';
import { type CaseRows, resolveAllLimits } from '../../../core/trials/index.ts';
import type { SearchRequest, SearchResult } from '../../entities/entities.ts';
import { type NewPart, readPartTotal, readResults } from '../task-sql.ts';
import type { TaskKindWork } from './task-kind.ts';

/** Each part tries a candidate; the next generation comes of what they found. */
export const SEARCH_KIND: TaskKindWork<SearchRequest, readonly number[]> = {
  async run({ request, part: point, document, run, note }) {
    const { cases, garmentId, variables, limits = {}, budget, pricing } = request;
    const garment = document.records.get(garmentId);
    if (garment?.type !== 'garment')
      throw new Error('The garment that was searched for is not in this state.');
    const values = point.map((share, v) => toValue(variables[v]!, share));
    const changes = changeVariables(document, garment, variables, values);
    const measured: CaseRows[] = [];
    let before = 0;
    for (const trialCase of cases) {
      const { rows } = await run(
        'measureCase',
        { trialCase, changes, ...(pricing && { pricing }) },
        (count) => note(before + count),
      );
      before += rows.times.length;
      measured.push(rows);
    }
    const judged = resolveAllLimits(document, () => [limits]);
    const score = scoreRows(measured, garment.id, judged, budget);
    return { result: { point, ...score } };
  },
  async goOn(em, taskId, { plan }) {
    const tried = await readResults<SearchResult>(em, taskId);
    const points = proposePoints(plan, tried);
    if (points.length === 0) return { parts: [] };
    return { parts: toCandidates(points, tried.length, await readPartTotal(em, taskId)) };
  },
};

/** Parts that try points. @param first - How many were tried before. @param total - Frames of each. */
export function toCandidates(points: readonly number[][], first: number, total: number): NewPart[] {
  return points.map((point, k) => ({ name: `candidate ${first + k + 1}`, total, request: point }));
}
