import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';
import { readFiles } from '../../_read-files.ts';

export const prerender = false;

/** Brings dropped files in as a new character. The body is a form with one or more `files`. */
export const POST = endpoint(async ({ em, pool, request, param }) => {
  const { files } = await readFiles(request);
  const character = await new CharacterService(em, pool).bringIn(param('id'), files);
  return json({ id: character.id, name: character.name, report: character.report }, 201);
});
