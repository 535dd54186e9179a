import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

export const POST = endpoint(async ({ em, pool, param }) => {
  const copy = await new CharacterService(em, pool).duplicate(param('id'));
  return json({ id: copy.id, name: copy.name }, 201);
});
