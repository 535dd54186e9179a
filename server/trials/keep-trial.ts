import { randomUUID } from 'node:crypto';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type { AuthoredDocument } from '../../core/document/index.ts';
import {
  type CaseRows,
  judgeRows,
  packTrial,
  resolveAllLimits,
  type TrialCase,
} from '../../core/trials/index.ts';
import { Trial } from '../entities/entities.ts';
import type { StoredSnapshot } from '../tasks/snapshot.ts';

/** A trial that was made of a stored state. */
export interface MadeTrial {
  /** Of its task; a new one when it had none. */
  id?: string;
  characterId: string;
  title: string;
  isAutomatic: boolean;
  snapshot: StoredSnapshot;
  /** The state, whose own limits say how many cases broke one. */
  document: AuthoredDocument;
  cases: readonly TrialCase[];
  rows: readonly CaseRows[];
  /** From its beginning to its end. */
  seconds: number;
}

/** Puts a trial into the history of its character. */
export async function keepTrial(
  em: SqlEntityManager,
  { id = randomUUID(), characterId, snapshot, document, cases, rows, ...told }: MadeTrial,
): Promise<void> {
  const limits = resolveAllLimits(document);
  em.create(Trial, {
    ...told,
    id,
    character: characterId,
    revision: snapshot.revision,
    motionHash: snapshot.motionHash,
    snapshotHash: snapshot.hash,
    hashes: snapshot.hashes,
    cases: [...cases],
    caseCount: rows.length,
    brokenCount: rows.filter((each) => judgeRows(each, limits).length > 0).length,
    measured: Buffer.from(packTrial(rows, 'measured')),
    machine: Buffer.from(packTrial(rows, 'machine')),
    createdAt: new Date(),
  });
  await em.flush();
}
