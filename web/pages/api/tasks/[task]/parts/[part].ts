import { TaskService } from '../../../../../../server/tasks/task-service.ts';
import { joinParts } from '../../../../../wire/trial-bytes.ts';
import { endpoint } from '../../../_endpoint.ts';

export const prerender = false;

/** What a part of a trial measured, as of a whole trial; 204 while it is not done. Parts go when their task ends: 404. */
export const GET = endpoint(async ({ em, param }) => {
  const made = await new TaskService(em).readMeasured(param('task'), Number(param('part')));
  if (!made) return new Response(null, { status: 204 });
  return new Response(joinParts(made.measured, made.machine) as Uint8Array<ArrayBuffer>, {
    headers: { 'Content-Type': 'application/octet-stream' },
  });
});
