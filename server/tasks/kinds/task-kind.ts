import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type { AuthoredDocument } from '../../../core/document/index.ts';
import type { JobKind, JobOf, MadeOf, Subject } from '../../work/jobs/index.ts';
import type { PartKey } from '../task-queue.ts';
import type { NewPart, PartMade } from '../task-sql.ts';

/** A character as a task has it, prepared for every thread. */
export interface Ready {
  subject: Subject;
  document: AuthoredDocument;
}

/** A part that is to be done, and what it is done with. */
export interface PartWork<Request, Part> extends Ready {
  em: SqlEntityManager;
  key: PartKey;
  /** What its task asks for. */
  request: Request;
  /** What it is to do, where the task does not say it; and how many frames it counts as. */
  part: Part;
  total: number;
  /** Does a job in a thread. @param onDone - Told how much of it is done, as the job counts it. */
  run<K extends JobKind>(kind: K, job: JobOf<K>, onDone?: (done: number) => void): Promise<MadeOf<K>>;
  /** Says how many frames of it are done. */
  note(frames: number): void;
}

/** What comes after the parts that are done. */
export interface NextParts {
  /** None: the task is done. */
  parts: readonly NewPart[];
  /** How many there will be in all, where that is known better now. */
  expected?: number;
}

/** How tasks of a kind are done: part by part, by any worker. */
export interface TaskKindWork<Request = unknown, Part = unknown> {
  run(work: PartWork<Request, Part>): Promise<PartMade>;
  /** Goes on when all parts that there are are done. Within a transaction that has locked the task. */
  goOn(em: SqlEntityManager, taskId: string, request: Request): Promise<NextParts>;
}
