import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type {
  Candidate,
  Demand,
  PlacedShape,
  SuggestionRequest,
  SuggestionStep,
} from '../../../core/suggest/index.ts';
import { type NewPart, readParts, readSteps } from '../task-sql.ts';
import { toBytes, toFloats } from './floats.ts';
import type { NextParts, TaskKindWork } from './task-kind.ts';

/** What is asked for, and how many frames each clip has, in the order of the clips that are asked for. */
export interface BodiesRequest extends SuggestionRequest {
  frames: readonly number[];
}

type BodiesPart =
  | { do: 'fit'; index: number }
  | { do: 'choose' }
  | { do: 'measure'; bodies: readonly PlacedShape[]; clip: number };

/** The skin is fitted in so many parts, whoever does them: the same candidates come in the same order. */
const FIT_PARTS = 4;
/** Frames that a fitting part counts as, as long as it takes. */
const FIT_FRAMES = 80;
/** Sets are tried for each body that is asked for, about. */
const SETS_PER_BODY = 0.7;

/**
 * Bodies for a garment: parts that fit them to the skin, then one that chooses a set, then one for each clip that simulates it, then one that
 * chooses the next set, until there is no better one. What is chosen follows from what is stored alone, so any worker goes on with it.
 */
export const BODIES_KIND: TaskKindWork<BodiesRequest, BodiesPart> = {
  async run({ em, key, request, part, total, run, note }) {
    const noteShare = (share: number): void => note(share * total);
    if (part.do === 'fit') {
      const own = { index: part.index, count: FIT_PARTS };
      const candidates = await run('fitBodies', { request, part: own }, noteShare);
      return { measured: new TextEncoder().encode(JSON.stringify(candidates)) };
    }
    if (part.do === 'choose') {
      const { candidates, tried } = await readState(em, key.taskId);
      const bodies = await run('chooseBodies', { request, candidates, tried });
      return { result: { kind: 'chosen', bodies } satisfies SuggestionStep };
    }
    const { weights, ...demand } = await run('measureBodies', { request, ...part }, noteShare);
    return { measured: toBytes(weights), result: { kind: 'measured', demand } satisfies SuggestionStep };
  },

  async goOn(em, taskId, request): Promise<NextParts> {
    const parts = await readSteps<BodiesPart, SuggestionStep>(em, taskId);
    const { result } = parts.at(-1)!;
    if (result?.kind !== 'chosen') return { parts: [{ name: 'choose a set', total: 1, request: CHOOSE }] };
    const { bodies } = result;
    if (!bodies) return { parts: [] };
    const next = request.clips.map((clip, k): NewPart => {
      const part: BodiesPart = { do: 'measure', bodies, clip };
      return { name: `${bodies.length} bodies`, total: request.frames[k]!, request: part };
    });
    const sets = parts.filter((each) => each.result?.kind === 'chosen').length;
    return { parts: next, expected: expectParts(request, sets, bodies.length) };
  },
};

const CHOOSE: BodiesPart = { do: 'choose' };

/** The parts that a suggestion begins with. */
export function listFitParts(): NewPart[] {
  return Array.from({ length: FIT_PARTS }, (_, index) => ({
    name: 'fit bodies to the skin',
    total: FIT_FRAMES,
    request: { do: 'fit', index } satisfies BodiesPart,
  }));
}

/** How many parts there will be, about. @param sets - Chosen so far, the last of them of so many bodies. */
export function expectParts(
  { clips, goal, keptIds }: SuggestionRequest,
  sets: number,
  bodies: number,
): number {
  const added = bodies - keptIds.length;
  const perBody = sets > 1 && added > 0 ? (sets - 1) / added : SETS_PER_BODY;
  const all = sets + Math.ceil(perBody * Math.max(0, goal.bodies - bodies)) + 1;
  return FIT_PARTS + all * (1 + clips.length);
}

async function readState(
  em: SqlEntityManager,
  taskId: string,
): Promise<{ candidates: Candidate[]; tried: Demand[][] }> {
  const candidates: Candidate[] = [];
  const tried: Demand[][] = [];
  for (const { request, result, measured } of await readParts<BodiesPart, SuggestionStep>(em, taskId)) {
    if (request.do === 'fit')
      candidates.push(...(JSON.parse(new TextDecoder().decode(measured!)) as Candidate[]));
    if (result?.kind === 'chosen') tried.push([]);
    if (result?.kind === 'measured') tried.at(-1)!.push({ ...result.demand, weights: toFloats(measured!) });
  }
  return { candidates, tried };
}
