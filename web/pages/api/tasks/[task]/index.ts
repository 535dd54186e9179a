import { TaskService } from '../../../../../server/tasks/task-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

export const GET = endpoint(async ({ em, param }) => json(await new TaskService(em).find(param('task'))));

/** Cancels it; 409 when it has ended. */
export const DELETE = endpoint(async ({ em, param }) =>
  json(await new TaskService(em).cancel(param('task'))),
);
