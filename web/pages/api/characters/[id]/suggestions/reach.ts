import { CharacterService } from '../../../../../../server/services/character-service.ts';
import { TaskOrders } from '../../../../../../server/tasks/task-orders.ts';
import { reachOrderSchema } from '../../../../../wire/suggestions.ts';
import { endpoint, json } from '../../../_endpoint.ts';

export const prerender = false;

/** Orders a first map of max distances, from what the page shows; 409 when that is an older state. */
export const POST = endpoint(async ({ em, pool, openQueue, request, param }) => {
  const order = await reachOrderSchema.validate(await request.json(), { strict: true });
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json(await new TaskOrders(em, pool, await openQueue()).orderReach(id, order), 201);
});
