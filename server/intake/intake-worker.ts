import type { MessagePort } from 'node:worker_threads';
import { type IntakeOutcome, type IntakeTask, runIntakeTask, type TaskOutcome } from './intake-task.ts';

/** Entry of the worker threads. @param port - Told when the work begins: until then the thread was starting. */
export default function work({
  task,
  port,
}: {
  task: IntakeTask;
  port: MessagePort;
}): Promise<IntakeOutcome<TaskOutcome>> {
  port.postMessage(null);
  port.close();
  return runIntakeTask(task);
}
