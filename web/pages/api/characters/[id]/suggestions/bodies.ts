import { CharacterService } from '../../../../../../server/services/character-service.ts';
import { TaskOrders } from '../../../../../../server/tasks/task-orders.ts';
import { bodiesOrderSchema } from '../../../../../wire/suggestions.ts';
import { endpoint, json } from '../../../_endpoint.ts';

export const prerender = false;

/** Orders bodies for the garments of a set, from what the page shows; 409 when that is an older state. */
export const POST = endpoint(async ({ em, pool, openQueue, request, param }) => {
  const order = await bodiesOrderSchema.validate(await request.json(), { strict: true });
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json(await new TaskOrders(em, pool, await openQueue()).orderBodies(id, order), 201);
});
