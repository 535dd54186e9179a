import { randomUUID } from 'node:crypto';
import { LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { type AuthoredDocument, listGarments, type RecordId } from '../../core/document/index.ts';
import { type Character as RigCharacter, unpackCharacter } from '../../core/rig/index.ts';
import {
  proposePoints,
  readVariable,
  type SearchPlan,
  type SearchVariable,
  toShare,
} from '../../core/search/index.ts';
import {
  countCaseFrames,
  listCases,
  nameCase,
  type TrialCase,
  type TrialMotion,
  type TrialPlan,
} from '../../core/trials/index.ts';
import {
  Character,
  type ITask,
  type SearchRequest,
  type SearchResult,
  Task,
  type TrialRequest,
} from '../entities/entities.ts';
import type { IntakePool } from '../intake/intake-pool.ts';
import { CharacterService } from '../services/character-service.ts';
import { isId } from '../services/project-service.ts';
import type { SeenState } from '../services/seen-state.ts';
import { ServiceError } from '../services/service-error.ts';
import { checkPlan, checkVariables } from './check-plan.ts';
import { toParts } from './go-on.ts';
import { readSnapshot, readSnapshotDocument, type StoredSnapshot, storeSnapshot } from './snapshot.ts';
import type { PartKey, TaskQueue } from './task-queue.ts';
import { countFrames, endTask, insertParts, type NewPart, readResults, type TaskFrames } from './task-sql.ts';

export interface SearchOrder {
  garmentId: string;
  variables: readonly SearchVariable[];
  /** What each candidate plays, as everything is set. */
  motions: readonly TrialMotion[];
  /** Candidates in all. */
  runs: number;
  seed: number;
  /** ms a frame; null for none. */
  budget: number | null;
  seen?: SeenState;
}

interface NewTask {
  kind: ITask['kind'];
  title: string;
  isAutomatic: boolean;
  request: TrialRequest | SearchRequest;
  /** Parts in all, those included that come later. */
  count: number;
  /** Those that can be done now. */
  parts: readonly NewPart[];
}

/** What is ordered is of one moment: the state that is kept is the one that is read. */
interface OrderedState {
  snapshot: StoredSnapshot;
  character: RigCharacter;
  document: AuthoredDocument;
}

export interface TrialOrder {
  plan: TrialPlan;
  /** Started by itself: takes the place of such a one that has not ended. */
  isAutomatic: boolean;
  /** What the page shows that asks for it. */
  seen?: SeenState;
}

/** A task as it is listed. */
export interface TaskSummary {
  id: string;
  characterId: string;
  characterName: string;
  kind: ITask['kind'];
  title: string;
  isAutomatic: boolean;
  revision: number;
  state: ITask['state'];
  /** Why it failed. */
  error: string | null;
  parts: number;
  partsDone: number;
  /** Frames that are done, and all of them. */
  done: number;
  total: number;
  createdAt: string;
  startedAt: string | null;
  finishedAt: string | null;
}

/** Tasks that are listed, the newest first. */
const MOST_LISTED = 200;
/** More would take days. */
const MOST_CASES = 2000;

/** Long work: ordered, listed, cancelled. Workers do it, see `TaskWorker`. */
export class TaskService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  /**
   * Orders a trial of the state that is stored now.
   * @throws {ServiceError} When the plan asks for what the character does not have, or the page shows another state.
   */
  async orderTrial(
    characterId: string,
    { plan, isAutomatic, seen }: TrialOrder,
    pool: IntakePool,
    queue: TaskQueue,
  ): Promise<TaskSummary> {
    const ordered = await this.#keep(characterId, pool, seen);
    const { character, document } = ordered;
    const cases = readCases(character, plan);
    if (listGarments(document).length === 0)
      throw new ServiceError(422, 'There is no garment to try. Make one in the stage Garment first.');
    const parts = cases.map((each) => ({
      name: nameCase(each, character),
      total: countCaseFrames(each, character),
    }));
    const title = tellPlan(plan, cases);
    const request = { cases };
    const task: NewTask = { kind: 'trial', title, isAutomatic, request, count: cases.length, parts };
    return this.#order(characterId, ordered.snapshot, task, queue);
  }

  /** Keeps the state of now, and reads that very state. */
  async #keep(characterId: string, pool: IntakePool, seen: SeenState | undefined): Promise<OrderedState> {
    const packed = await new CharacterService(this.#em, pool).readPacked(characterId);
    const snapshot = await storeSnapshot(this.#em, characterId, seen);
    return {
      snapshot,
      character: unpackCharacter(new Uint8Array(packed).buffer),
      document: await readSnapshotDocument(this.#em, await readSnapshot(this.#em, snapshot.hash)),
    };
  }

  /** Puts a task down with its parts, and wakes the workers. */
  async #order(
    characterId: string,
    { hash, hashes, revision, motionHash }: StoredSnapshot,
    { kind, title, isAutomatic, request, count, parts }: NewTask,
    queue: TaskQueue,
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
    await queue.send(parts.map((_, index): PartKey => ({ taskId: id, index })));
    return this.find(id);
  }

  /**
   * Orders a search for settings of a garment, from the state that is stored now.
   * @throws {ServiceError} As of a trial, and for numbers that cannot be searched.
   */
  async orderSearch(
    characterId: string,
    { garmentId, variables, motions, runs, seed, budget, seen }: SearchOrder,
    pool: IntakePool,
    queue: TaskQueue,
  ): Promise<TaskSummary> {
    const { snapshot, character, document } = await this.#keep(characterId, pool, seen);
    const cases = readCases(character, { motions, shapes: [], winds: [], rates: [] });
    const garment = document.records.get(garmentId as RecordId);
    if (garment?.type !== 'garment')
      throw new ServiceError(422, 'This garment is not there any more. Reload the page.');
    checkVariables(variables);
    const start = variables.map((each) => toShare(each, readVariable(document, garment, each.key)));
    const plan: SearchPlan = { start, runs, seed };
    const request: SearchRequest = { cases, garmentId: garment.id, variables: [...variables], plan, budget };
    const total = cases.reduce((sum, each) => sum + countCaseFrames(each, character), 0);
    const title = `${garment.name}: ${variables.length} ${variables.length === 1 ? 'number' : 'numbers'}, ${runs} candidates`;
    const parts = toParts(proposePoints(plan, []), 0, total);
    const task: NewTask = { kind: 'search', title, isAutomatic: false, request, count: runs, parts };
    return this.#order(characterId, snapshot, task, queue);
  }

  /** What a search may move, and what it has found so far. */
  async readSearch(id: string): Promise<{ request: SearchRequest; results: SearchResult[] }> {
    await this.find(id);
    const task = await this.#em.findOneOrFail(
      Task,
      { id },
      { populate: ['request', 'result'], refresh: true },
    );
    if (task.kind !== 'search') throw new ServiceError(404, 'This task is no search.');
    const results = task.finishedAt ? (task.result?.get() ?? []) : await readResults(this.#em, id);
    return { request: task.request.get() as SearchRequest, results };
  }

  async find(id: string): Promise<TaskSummary> {
    const task = isId(id)
      ? await this.#em.findOne(Task, { id }, { populate: ['character'], refresh: true })
      : null;
    if (!task) throw new ServiceError(404, 'There is no such task. Those that ended long ago are forgotten.');
    return summarise(task, (await countFrames(this.#em, [id])).get(id));
  }

  /** The newest first. @param characterId - Of this one only. */
  async list(characterId?: string): Promise<TaskSummary[]> {
    const tasks = await this.#em.find(
      Task,
      { character: { deletedAt: null, ...(characterId ? { id: characterId } : {}) } },
      { populate: ['character'], orderBy: { createdAt: 'desc' }, limit: MOST_LISTED, refresh: true },
    );
    const frames = await countFrames(
      this.#em,
      tasks.flatMap(({ id, finishedAt }) => (finishedAt ? [] : [id])),
    );
    return tasks.map((task) => summarise(task, frames.get(task.id)));
  }

  /** @throws {ServiceError} 409 when it has ended already. */
  async cancel(id: string): Promise<TaskSummary> {
    const task = await this.find(id);
    if (!(await this.#em.transactional((em) => endTask(em, id, 'cancelled'))))
      throw new ServiceError(409, `This task has ended already: it is ${task.state}.`);
    return this.find(id);
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

function tellPlan({ motions }: TrialPlan, cases: readonly TrialCase[]): string {
  const clips = motions.filter(({ kind }) => kind === 'clip').length;
  const blends = motions.length - clips;
  const words = [
    clips > 0 && `${clips} ${clips === 1 ? 'clip' : 'clips'}`,
    blends > 0 && `${blends} ${blends === 1 ? 'blend' : 'blends'}`,
  ].filter(Boolean);
  return `${words.join(' and ')}, ${cases.length} ${cases.length === 1 ? 'run' : 'runs'}`;
}

function summarise(task: ITask, frames: TaskFrames | undefined): TaskSummary {
  const character = task.character as unknown as { id: string; name: string };
  return {
    id: task.id,
    characterId: character.id,
    characterName: character.name,
    kind: task.kind,
    title: task.title,
    isAutomatic: task.isAutomatic,
    revision: task.revision,
    state: task.state,
    error: task.error ?? null,
    parts: task.parts,
    partsDone: task.partsDone,
    done: frames?.done ?? 0,
    total: frames?.total ?? 0,
    createdAt: task.createdAt.toISOString(),
    startedAt: task.startedAt?.toISOString() ?? null,
    finishedAt: task.finishedAt?.toISOString() ?? null,
  };
}
