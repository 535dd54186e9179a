import { CharacterService } from '../../../../../server/services/character-service.ts';
import { TaskOrders } from '../../../../../server/tasks/task-orders.ts';
import { TrialService } from '../../../../../server/trials/trial-service.ts';
import { trialIdsSchema, trialOrderSchema } from '../../../../wire/trials.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** All trials of a character, the newest first. */
export const GET = endpoint(async ({ em, pool, param }) => {
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json({ trials: await new TrialService(em).list(id) });
});

/** Orders one of what the page shows; 409 when that is an older state. */
export const POST = endpoint(async ({ em, pool, openQueue, request, param }) => {
  const order = await trialOrderSchema.validate(await request.json(), { strict: true });
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json(await new TaskOrders(em, pool, await openQueue()).orderTrial(id, order), 201);
});

export const DELETE = endpoint(async ({ em, pool, request, param }) => {
  const { ids } = await trialIdsSchema.validate(await request.json(), { strict: true });
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json({ removed: await new TrialService(em).remove(id, ids) });
});
