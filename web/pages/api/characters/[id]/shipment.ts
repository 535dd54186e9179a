import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Writes the finished file, checks it, and says where to fetch it. */
export const POST = endpoint(async ({ em, pool, param }) => {
  const { hash, name, bytes, validation } = await new CharacterService(em, pool).ship(param('id'));
  return json({ hash, name, bytes: bytes.length, validation });
});
