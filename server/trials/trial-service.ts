import type { Loaded } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import {
  type DocumentState,
  describeChanges,
  raiseRecord,
  type StateRecord,
} from '../../core/document/index.ts';
import type { TrialCase } from '../../core/trials/index.ts';
import { type ITrial, Trial } from '../entities/entities.ts';
import type { StoredRecord } from '../services/authored-service.ts';
import { isId } from '../services/project-service.ts';
import { ServiceError } from '../services/service-error.ts';
import { readMotionHash, readSnapshot, type Snapshot } from '../tasks/snapshot.ts';

/** A trial as the history lists it. */
export interface TrialSummary {
  id: string;
  title: string;
  isAutomatic: boolean;
  revision: number;
  /** Whether nothing that moves has changed since. */
  fits: boolean;
  cases: number;
  /** Cases that broke a limit of then. */
  broken: number;
  seconds: number;
  createdAt: string;
}

/** Trials of characters: listed, read, compared, thinned out. Workers make them. */
export class TrialService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  /** The newest first. */
  async list(characterId: string): Promise<TrialSummary[]> {
    const motionHash = await readMotionHash(this.#em, characterId);
    const trials = await this.#em.find(
      Trial,
      { character: characterId },
      { orderBy: { createdAt: 'desc' }, refresh: true },
    );
    return trials.map((trial) => ({
      id: trial.id,
      title: trial.title,
      isAutomatic: trial.isAutomatic,
      revision: trial.revision,
      fits: trial.motionHash === motionHash,
      cases: trial.caseCount,
      broken: trial.brokenCount,
      seconds: trial.seconds,
      createdAt: trial.createdAt.toISOString(),
    }));
  }

  /** What was played, in its order. */
  async readCases(id: string): Promise<TrialCase[]> {
    return (await this.#find(id, ['cases'])).cases.get()!;
  }

  /** As `packTrial` makes them: what is measured, and what the machine took. */
  async readRows(id: string): Promise<{ measured: Uint8Array; machine: Uint8Array }> {
    const trial = await this.#find(id, ['measured', 'machine']);
    return { measured: trial.measured.get()!, machine: trial.machine.get()! };
  }

  /** All records of the state that it is of, as `AuthoredService.list` gives those of now. */
  async readRecords(id: string): Promise<StoredRecord[]> {
    return listRecords(await this.#readSnapshot(id)).map((one) => ({ ...one, version: 0 }));
  }

  /** What changed from one trial to another, in words. */
  async describeChanges(from: string, to: string): Promise<string[]> {
    const [before, after] = await Promise.all([this.#readSnapshot(from), this.#readSnapshot(to)]);
    const isSameSource = JSON.stringify(before.files) === JSON.stringify(after.files);
    return [
      ...(isSameSource ? [] : ['other source files']),
      ...describeChanges(toState(before), toState(after)),
    ];
  }

  /** Deletes trials of a character. @returns How many there were. */
  remove(characterId: string, ids: readonly string[]): Promise<number> {
    return this.#em.nativeDelete(Trial, { character: characterId, id: { $in: ids.filter(isId) } });
  }

  async #readSnapshot(id: string): Promise<Snapshot> {
    return readSnapshot(this.#em, (await this.#find(id, [])).snapshotHash);
  }

  async #find<F extends 'cases' | 'measured' | 'machine'>(
    id: string,
    populate: readonly F[],
  ): Promise<Loaded<ITrial, F>> {
    const trial = isId(id) ? await this.#em.findOne(Trial, { id }, { populate: populate as never }) : null;
    if (!trial)
      throw new ServiceError(404, 'This trial is not there any more. It was deleted in another window.');
    return trial as unknown as Loaded<ITrial, F>;
  }
}

function listRecords({ records }: Snapshot): (StateRecord & { arrayHash: string | null })[] {
  return records.map(({ data, documentVersion, arrayHash }) => ({
    record: raiseRecord(data, documentVersion),
    arrayHash,
  }));
}

function toState(snapshot: Snapshot): DocumentState {
  return new Map(listRecords(snapshot).map((one) => [one.record.id, one]));
}
