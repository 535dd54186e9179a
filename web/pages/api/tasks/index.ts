import { TaskService } from '../../../../server/tasks/task-service.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** What runs and what ran, the newest first. */
export const GET = endpoint(async ({ em }) => json({ tasks: await new TaskService(em).list() }));
