import type { ReachRequest } from '../../work/jobs/index.ts';
import { readParts, readSteps } from '../task-sql.ts';
import { toBytes, toFloats } from './floats.ts';
import type { TaskKindWork } from './task-kind.ts';

type ReachPart = { do: 'need'; clip: number } | { do: 'shape' };

/** The map that came of it: metres, by welded vertex. */
export interface ReachResult {
  values: readonly number[];
}

/** A first map of max distances: each clip is a part; the last one makes the map of what they need. */
export const REACH_KIND: TaskKindWork<ReachRequest, ReachPart> = {
  async run({ em, key, request, part, total, run, note }) {
    if (part.do === 'need') {
      const { clip } = part;
      const need = await run('needReach', { request, clip }, (share) => note(share * total));
      return { measured: toBytes(need) };
    }
    const parts = await readParts<ReachPart, ReachResult>(em, key.taskId);
    const needs = parts.flatMap(({ measured }) => (measured ? [toFloats(measured)] : []));
    const values = await run('shapeMap', { request, needs });
    return { result: { values: [...values] } satisfies ReachResult };
  },
  async goOn(em, taskId) {
    const parts = await readSteps<ReachPart, ReachResult>(em, taskId);
    if (parts.some(({ request }) => request.do === 'shape')) return { parts: [] };
    return { parts: [{ name: 'make the map', total: 1, request: { do: 'shape' } satisfies ReachPart }] };
  },
};

/** The parts that a suggestion begins with. @param frames - Of each clip. */
export function listNeedParts(
  { clips }: ReachRequest,
  frames: readonly number[],
): { name: string; total: number; request: ReachPart }[] {
  return clips.map((clip, k) => ({
    name: `clip ${clip + 1}`,
    total: frames[k]!,
    request: { do: 'need', clip },
  }));
}
