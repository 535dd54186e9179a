import type { TaskKind } from '../../entities/entities.ts';
import { ADVICE_KIND } from './advice-kind.ts';
import { BODIES_KIND } from './bodies-kind.ts';
import { CALIBRATION_KIND } from './calibration-kind.ts';
import { LEVELS_KIND } from './levels-kind.ts';
import { REACH_KIND } from './reach-kind.ts';
import { SEARCH_KIND } from './search-kind.ts';
import type { TaskKindWork } from './task-kind.ts';
import { TRIAL_KIND } from './trial-kind.ts';

const KINDS = {
  trial: TRIAL_KIND,
  search: SEARCH_KIND,
  bodies: BODIES_KIND,
  reach: REACH_KIND,
  calibration: CALIBRATION_KIND,
  advice: ADVICE_KIND,
  levels: LEVELS_KIND,
} satisfies Record<TaskKind, TaskKindWork<never, never>>;

/** How tasks of a kind are done. What a task and its parts ask for was put down by that kind. */
export function getKind(kind: TaskKind): TaskKindWork {
  return KINDS[kind] as unknown as TaskKindWork;
}
