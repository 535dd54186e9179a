import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Number of the newest state of a character: what was made of another is out of date. */
export const GET = endpoint(async ({ em, pool, param }) => {
  const { revision } = await new CharacterService(em, pool).find(param('id'));
  return json({ revision });
});
