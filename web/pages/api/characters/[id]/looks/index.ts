import { openLooks } from '../../../../../../formats/index.ts';
import { CharacterService } from '../../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../../_endpoint.ts';

export const prerender = false;

/** What the files of a character look like: materials by section, and which images they show. */
export const GET = endpoint(async ({ em, pool, param }) => {
  const characters = new CharacterService(em, pool);
  return json(openLooks(await characters.readFiles(await characters.find(param('id')))).looks);
});
