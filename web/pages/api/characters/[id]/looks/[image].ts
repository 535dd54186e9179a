import { openLooks } from '../../../../../../formats/index.ts';
import { CharacterService } from '../../../../../../server/services/character-service.ts';
import { hashSource } from '../../../../../../server/services/seen-state.ts';
import { ServiceError } from '../../../../../../server/services/service-error.ts';
import { endpoint } from '../../../_endpoint.ts';

export const prerender = false;

/** An image of a character's files, packed as it came. `?source=` names the files: what comes is kept by the browser then. */
export const GET = endpoint(async ({ em, pool, param, url }) => {
  const characters = new CharacterService(em, pool);
  const character = await characters.find(param('id'));
  const number = param('image');
  const files = await characters.readFiles(character);
  const image = /^\d{1,6}$/.test(number) ? openLooks(files).getImage(Number(number)) : null;
  if (!image) throw new ServiceError(404, 'The files of this character have no such image.');
  const isOfSource = url.searchParams.get('source') === hashSource(character);
  return new Response(new Uint8Array(image.bytes), {
    headers: {
      'Content-Type': image.type,
      'Cache-Control': isOfSource ? 'private, max-age=31536000, immutable' : 'no-store',
    },
  });
});
