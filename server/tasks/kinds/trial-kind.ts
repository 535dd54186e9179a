import { packTrial } from '../../../core/trials/index.ts';
import type { TrialRequest } from '../../entities/entities.ts';
import { finishTrial } from './finish-trial.ts';
import type { TaskKindWork } from './task-kind.ts';

/** Each part measures one case; a trial is made of all of them. */
export const TRIAL_KIND: TaskKindWork<TrialRequest, null> = {
  async run({ key, request, run, note }) {
    const { rows } = await run('measureCase', { trialCase: request.cases[key.index]! }, note);
    return { measured: packTrial([rows], 'measured'), machine: packTrial([rows], 'machine') };
  },
  async goOn(em, taskId) {
    await finishTrial(em, taskId);
    return { parts: [] };
  },
};
