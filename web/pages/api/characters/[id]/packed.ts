import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint } from '../../_endpoint.ts';

export const prerender = false;

/** The character as packed bytes, see core/rig. */
export const GET = endpoint(async ({ em, pool, param }) => {
  const bytes = await new CharacterService(em, pool).readPacked(param('id'));
  return new Response(new Uint8Array(bytes), {
    headers: { 'Content-Type': 'application/x-cobweb-character', 'Cache-Control': 'no-store' },
  });
});
