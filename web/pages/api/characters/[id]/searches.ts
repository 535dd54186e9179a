import { CharacterService } from '../../../../../server/services/character-service.ts';
import { TaskOrders } from '../../../../../server/tasks/task-orders.ts';
import { searchOrderSchema } from '../../../../wire/trials.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Orders a search from what the page shows; 409 when that is an older state. */
export const POST = endpoint(async ({ em, pool, openQueue, request, param }) => {
  const order = await searchOrderSchema.validate(await request.json(), { strict: true });
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json(await new TaskOrders(em, pool, await openQueue()).orderSearch(id, order), 201);
});
