import { TaskService } from '../../../../../server/tasks/task-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** What a task asks for, and what it has found so far. */
export const GET = endpoint(async ({ em, param }) =>
  json(await new TaskService(em).readFound(param('task'))),
);
