import { availableParallelism } from 'node:os';
import type { Pricing } from '../core/cost/index.ts';
import type { TrialCase } from '../core/trials/index.ts';
import type { MeasuredCase } from '../server/work/jobs/index.ts';
import { createSubject, WorkPool } from '../server/work/work-pool.ts';
import { UsageError } from './usage-error.ts';
import type { Subject } from './with-subject.ts';

export interface Work {
  pricing: Pricing;
  cases: readonly TrialCase[];
  /** Cases side by side. */
  threads: number;
}

/** Measures cases of a character, in their order. */
export async function measureAll(
  { character, document }: Pick<Subject, 'character' | 'document'>,
  { pricing, cases, threads }: Work,
): Promise<MeasuredCase[]> {
  const pool = new WorkPool(Math.min(threads, cases.length));
  const subject = createSubject(character, document);
  try {
    return await Promise.all(
      cases.map((trialCase) => pool.run(subject, 'measureCase', { trialCase, pricing })),
    );
  } finally {
    await pool.close();
  }
}

/** How many threads an option asks for; one for each core without it. @param name - Of the option. @throws {UsageError} */
export function readThreads(option: string | undefined, name = '--threads'): number {
  const threads = Number(option ?? availableParallelism());
  if (!Number.isInteger(threads) || threads < 1 || threads > 256)
    throw new UsageError(`${name} ${option}: it is a number from 1 to 256.`);
  return threads;
}
