import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';
import { readFiles } from '../../_read-files.ts';

export const prerender = false;

/** Adds the clips of other files. The body is a form with one or more `files`. */
export const POST = endpoint(async ({ em, pool, request, param }) => {
  const { files } = await readFiles(request);
  const character = await new CharacterService(em, pool).addClips(param('id'), files);
  return json({ report: character.report }, 201);
});

/** Takes the clips of an added file, `?file=NAME`, away. */
export const DELETE = endpoint(async ({ em, pool, url, param }) => {
  const character = await new CharacterService(em, pool).removeClips(
    param('id'),
    url.searchParams.get('file') ?? '',
  );
  return json({ report: character.report });
});
