import { randomUUID } from 'node:crypto';
import { LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { type AuthoredDocument, getScene, listGarments, type RecordId } from '../../core/document/index.ts';
import { listBands, measureHeight } from '../../core/levels/index.ts';
import { type Character as RigCharacter, unpackCharacter } from '../../core/rig/index.ts';
import { proposePoints, readVariable, type SearchPlan, toShare } from '../../core/search/index.ts';
import {
  countCaseFrames,
  createCase,
  listCases,
  nameCase,
  resolveAllLimits,
  type TrialCase,
  type TrialMotion,
  type TrialPlan,
} from '../../core/trials/index.ts';
import { Character, type ITask, type SearchRequest, Task, type TrialRequest } from '../entities/entities.ts';
import type { IntakePool } from '../intake/intake-pool.ts';
import { CharacterService } from '../services/character-service.ts';
import { ServiceError } from '../services/service-error.ts';
import { readCharacterPricing } from '../services/target-service.ts';
import { tellCount, tellPlan } from '../trials/tell-plan.ts';
import { countBandFrames, FIRST_PLAYS } from '../work/jobs/index.ts';
import { checkPlan, checkVariables } from './check-plan.ts';
import { type AdviceRequest, toPart } from './kinds/advice-kind.ts';
import { type BodiesRequest, expectParts, listFitParts } from './kinds/bodies-kind.ts';
import type { LevelsRequest } from './kinds/levels-kind.ts';
import { listNeedParts } from './kinds/reach-kind.ts';
import { toCandidates } from './kinds/search-kind.ts';
import { postponeCalibration } from './order-calibration.ts';
import { readSnapshot, readSnapshotDocument, type StoredSnapshot, storeSnapshot } from './snapshot.ts';
import type {
  AdviceOrder,
  BodiesOrder,
  LevelsOrder,
  ReachOrder,
  SearchOrder,
  TrialOrder,
} from './task-order.ts';
import type { PartKey, TaskQueue } from './task-queue.ts';
import { TaskService, type TaskSummary } from './task-service.ts';
import { endTask, insertParts, type NewPart } from './task-sql.ts';

interface NewTask {
  kind: ITask['kind'];
  title: string;
  isAutomatic?: boolean;
  request: unknown;
  /** Parts in all, those included that come later. */
  count: number;
  /** Those that can be done now. */
  parts: readonly NewPart[];
}

/** What is ordered is of one moment: the state that is kept is the one that is read. */
interface OrderedState {
  characterId: string;
  snapshot: StoredSnapshot;
  character: RigCharacter;
  document: AuthoredDocument;
}

/** More would take days. */
const MOST_CASES = 2000;

/** Orders long work of the state that is stored now. Each throws a `ServiceError` when the page shows another state. */
export class TaskOrders {
  readonly #em: SqlEntityManager;
  readonly #pool: IntakePool;
  readonly #queue: TaskQueue;

  constructor(em: SqlEntityManager, pool: IntakePool, queue: TaskQueue) {
    this.#em = em;
    this.#pool = pool;
    this.#queue = queue;
  }

  /** @throws {ServiceError} When the plan asks for what the character does not have. */
  async orderTrial(characterId: string, { plan, isAutomatic, seen }: TrialOrder): Promise<TaskSummary> {
    const state = await this.#keep(characterId, seen);
    const { character, document } = state;
    const cases = readCases(character, plan);
    if (listGarments(document).length === 0)
      throw new ServiceError(422, 'There is no garment to try. Make one in the stage Garment first.');
    const parts = cases.map((each) => ({
      name: nameCase(each, character),
      total: countCaseFrames(each, character),
    }));
    const request: TrialRequest = { cases };
    const title = tellPlan(plan, cases);
    return this.#order(state, { kind: 'trial', title, isAutomatic, request, count: cases.length, parts });
  }

  /** Orders a search for settings of a garment. @throws {ServiceError} For numbers that cannot be searched, too. */
  async orderSearch(
    characterId: string,
    { garmentId, variables, motions, runs, seed, limits, budget, seen }: SearchOrder,
  ): Promise<TaskSummary> {
    const state = await this.#keep(characterId, seen);
    const { character, document } = state;
    const cases = readCases(character, { motions, shapes: [], winds: [], rates: [] });
    const garment = findGarment(document, garmentId);
    checkVariables(variables);
    const start = variables.map((each) => toShare(each, readVariable(document, garment, each.key)));
    const plan: SearchPlan = { start, runs, seed };
    const request: SearchRequest = {
      cases,
      garmentId: garment.id,
      variables: [...variables],
      plan,
      limits,
      budget,
      pricing: await readCharacterPricing(this.#em, characterId),
    };
    const total = cases.reduce((sum, each) => sum + countCaseFrames(each, character), 0);
    const title = `${garment.name}: ${tellCount(variables.length, 'number')}, ${runs} candidates`;
    const parts = toCandidates(proposePoints(plan, []), 0, total);
    return this.#order(state, { kind: 'search', title, request, count: runs, parts });
  }

  /** Orders a suggestion of bodies for the garments that use a set. @throws {ServiceError} For a set that is not there. */
  async orderBodies(characterId: string, { seen, ...wanted }: BodiesOrder): Promise<TaskSummary> {
    const state = await this.#keep(characterId, seen);
    const set = state.document.records.get(wanted.bodySetId as RecordId);
    if (set?.type !== 'bodySet')
      throw new ServiceError(422, 'This body set is not there any more. Reload the page.');
    const frames = countClipFrames(state.character, wanted.clips);
    const request: BodiesRequest = {
      ...wanted,
      bodySetId: set.id,
      keptIds: wanted.keptIds as RecordId[],
      pricing: await readCharacterPricing(this.#em, characterId),
      frames,
    };
    const title = `body set ${set.name}: up to ${tellCount(wanted.goal.bodies, 'body', 'bodies')}, ${tellCount(frames.length, 'clip')}`;
    const count = expectParts(request, 0, request.keptIds.length);
    return this.#order(state, { kind: 'bodies', title, request, count, parts: listFitParts() });
  }

  /** Orders a first map of max distances. @throws {ServiceError} For a garment that is not there. */
  async orderReach(characterId: string, { garmentId, seam, clips, seen }: ReachOrder): Promise<TaskSummary> {
    const state = await this.#keep(characterId, seen);
    const garment = findGarment(state.document, garmentId);
    const frames = countClipFrames(state.character, clips);
    const request = { garmentId: garment.id, seam, clips };
    const title = `${garment.name}: max distance from ${tellCount(clips.length, 'clip')}`;
    const parts = listNeedParts(request, frames);
    return this.#order(state, { kind: 'reach', title, request, count: parts.length + 1, parts });
  }

  /** Orders what makes the asset cheaper, each change tried on some clips. @throws {ServiceError} Without garments, too. */
  async orderAdvice(characterId: string, { clips, budget, seen }: AdviceOrder): Promise<TaskSummary> {
    const state = await this.#keep(characterId, seen);
    const { character, document } = state;
    const cases = readCases(character, toPlan(clips));
    if (listGarments(document).length === 0)
      throw new ServiceError(
        422,
        'There is no garment that costs anything. Make one in the stage Garment first.',
      );
    const request: AdviceRequest = {
      cases,
      budget,
      limits: [...resolveAllLimits(document)],
      pricing: await readCharacterPricing(this.#em, characterId),
    };
    const total = cases.reduce((sum, each) => sum + countCaseFrames(each, character), 0);
    const title = `${tellCount(listGarments(document).length, 'garment')}, budget ${budget.toFixed(2)} ms, ${tellCount(clips.length, 'clip')}`;
    return this.#order(state, {
      kind: 'advice',
      title,
      request,
      count: 1,
      parts: [toPart([], FIRST_PLAYS * total)],
    });
  }

  /** Orders what every band of levels of detail costs and looks like on some clips. @throws {ServiceError} Without levels, too. */
  async orderLevels(characterId: string, { clips, seen }: LevelsOrder): Promise<TaskSummary> {
    const state = await this.#keep(characterId, seen);
    const { character, document } = state;
    const cases = readCases(character, toPlan(clips));
    const garments = listGarments(document);
    if (garments.every(({ levels }) => levels.length === 0))
      throw new ServiceError(422, 'No garment has levels of detail yet. Add some first.');
    const bands = listBands(garments);
    const switchSeconds = getScene(document).levelSwitchSeconds;
    const request: LevelsRequest = {
      cases,
      pricing: await readCharacterPricing(this.#em, characterId),
      bands: bands.map(({ from, levels }) => ({ from, levels: [...levels] })),
      height: measureHeight(character),
      switchSeconds,
    };
    const parts = bands.map(({ from }, band) => ({
      name: from > 0 ? `from ${from} px` : 'farthest',
      total: countBandFrames(cases, character, band, switchSeconds),
      request: band,
    }));
    const title = `${tellCount(garments.length, 'garment')}, ${tellCount(bands.length, 'size')}, ${tellCount(clips.length, 'clip')}`;
    return this.#order(state, { kind: 'levels', title, request, count: parts.length, parts });
  }

  /** Keeps the state of now, and reads that very state. */
  async #keep(characterId: string, seen: TrialOrder['seen']): Promise<OrderedState> {
    const packed = await new CharacterService(this.#em, this.#pool).readPacked(characterId);
    const snapshot = await storeSnapshot(this.#em, characterId, seen);
    return {
      characterId,
      snapshot,
      character: unpackCharacter(new Uint8Array(packed).buffer),
      document: await readSnapshotDocument(this.#em, await readSnapshot(this.#em, snapshot.hash)),
    };
  }

  /** Puts a task down with its parts, and wakes the workers. */
  async #order(
    { characterId, snapshot: { hash, hashes, revision, motionHash } }: OrderedState,
    { kind, title, isAutomatic = false, request, count, parts }: NewTask,
  ): Promise<TaskSummary> {
    const id = randomUUID();
    await this.#em.transactional(async (em) => {
      // Two orders at once: the second one sees the first.
      await em.findOne(Character, { id: characterId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
      if (isAutomatic) await cancelAutomatic(em, characterId);
      em.create(Task, {
        id,
        character: characterId,
        kind,
        title: title.slice(0, 400),
        isAutomatic,
        request,
        revision,
        motionHash,
        snapshotHash: hash,
        hashes,
        state: 'queued',
        result: null,
        parts: count,
        createdAt: new Date(),
      });
      await em.flush();
      await insertParts(em, id, parts);
    });
    // Should this not be reached, a worker finds them after some time.
    await this.#queue.send(parts.map((_, index): PartKey => ({ taskId: id, index })));
    if (!isAutomatic) await postponeCalibration(this.#em.fork(), this.#queue);
    return new TaskService(this.#em).find(id);
  }
}

async function cancelAutomatic(em: SqlEntityManager, characterId: string): Promise<void> {
  const open = await em.find(Task, {
    character: characterId,
    isAutomatic: true,
    state: { $in: ['queued', 'running'] },
  });
  for (const { id } of open) await endTask(em, id, 'cancelled');
}

function findGarment(document: AuthoredDocument, id: string): ReturnType<typeof listGarments>[number] {
  const garment = document.records.get(id as RecordId);
  if (garment?.type !== 'garment')
    throw new ServiceError(422, 'This garment is not there any more. Reload the page.');
  return garment;
}

function readCases(character: RigCharacter, plan: TrialPlan): TrialCase[] {
  checkPlan(character, plan);
  const cases = listCases(plan);
  if (cases.length > MOST_CASES)
    throw new ServiceError(
      422,
      `This is ${cases.length} runs, more than the ${MOST_CASES} of one trial. Choose fewer.`,
    );
  return cases;
}

/** Clips as everything is set. */
function toPlan(clips: readonly number[]): TrialPlan {
  const motions = clips.map((clip): TrialMotion => ({ kind: 'clip', clip }));
  return { motions, shapes: [], winds: [], rates: [] };
}

/** Frames of clips, in their order. */
function countClipFrames(character: RigCharacter, clips: readonly number[]): number[] {
  const plan = toPlan(clips);
  checkPlan(character, plan);
  return plan.motions.map((motion) => countCaseFrames(createCase(motion), character));
}
