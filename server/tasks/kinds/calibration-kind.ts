import type { CostProfile } from '../../../core/cost/index.ts';
import { keepCostProfile } from '../../services/cost-service.ts';
import { readResults } from '../task-sql.ts';
import type { TaskKindWork } from './task-kind.ts';

/** What its one part counts as. */
export const CALIBRATION_TOTAL = 1000;

/** One part measures the machine of the worker that does it. */
export const CALIBRATION_KIND: TaskKindWork<Record<string, never>, null> = {
  async run({ run, note }) {
    return { result: await run('calibrate', {}, (share) => note(CALIBRATION_TOTAL * share)) };
  },
  async goOn(em, taskId) {
    const [profile] = await readResults<CostProfile>(em, taskId);
    if (profile) await keepCostProfile(em, profile);
    return { parts: [] };
  },
};
