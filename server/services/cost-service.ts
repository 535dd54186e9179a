import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { type CostProfile, REFERENCE_PROFILE } from '../../core/cost/index.ts';
import { WORK_UNITS } from '../../core/run/index.ts';
import { MeasuredCosts } from '../entities/entities.ts';

const MACHINE = 'machine';

/** What work costs on the machine that the application runs on; the reference machine until that was measured. */
export async function readCostProfile(em: SqlEntityManager): Promise<CostProfile> {
  const row = await em.findOne(MeasuredCosts, { key: MACHINE }, { refresh: true });
  // What was measured by another version may count other work.
  const isWhole = row && WORK_UNITS.every((unit) => Number.isFinite(row.profile.costs[unit]));
  return isWhole ? row.profile : REFERENCE_PROFILE;
}

/** Keeps what was measured of this machine, in the place of what was before. */
export async function keepCostProfile(em: SqlEntityManager, profile: CostProfile): Promise<void> {
  await em.upsert(MeasuredCosts, { key: MACHINE, profile, measuredAt: new Date() });
}
