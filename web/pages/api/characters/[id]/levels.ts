import { CharacterService } from '../../../../../server/services/character-service.ts';
import { TaskOrders } from '../../../../../server/tasks/task-orders.ts';
import { levelsOrderSchema } from '../../../../wire/levels.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Orders what every level of detail costs and looks like, from what the page shows; 409 when that is an older state. */
export const POST = endpoint(async ({ em, pool, openQueue, request, param }) => {
  const order = await levelsOrderSchema.validate(await request.json(), { strict: true });
  const { id } = await new CharacterService(em, pool).find(param('id'));
  return json(await new TaskOrders(em, pool, await openQueue()).orderLevels(id, order), 201);
});
