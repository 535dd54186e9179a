import { runIntakeTask } from './intake-task.ts';

/** Entry of the worker threads. */
export default runIntakeTask;
