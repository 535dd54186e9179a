import { object, string } from 'yup';
import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';
import { readFiles } from '../../_read-files.ts';

export const prerender = false;

const Renames = object().noUnknown(false);

/**
 * Another version of the character's files: a form with one or more `files`, `renames` (JSON: old section name → new one)
 * and `isTaken`: `yes` takes it, anything else only tells what would become of everything authored.
 */
export const POST = endpoint(async ({ em, pool, request, param }) => {
  const { files, form } = await readFiles(request);
  const given = (await Renames.validate(JSON.parse(String(form.get('renames') ?? '{}')))) as object;
  const renames: Record<string, string> = {};
  for (const [from, to] of Object.entries(given)) renames[from] = await string().required().validate(to);
  const characters = new CharacterService(em, pool);
  const isTaken = form.get('isTaken') === 'yes';
  const review = isTaken
    ? await characters.replaceSource(param('id'), files, renames)
    : await characters.reviewSource(param('id'), files, renames);
  return json({ review });
});
