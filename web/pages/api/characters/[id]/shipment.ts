import { CharacterService } from '../../../../../server/services/character-service.ts';
import { seenSchema } from '../../../../wire/characters.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Writes the finished file, checks it, and says where to fetch it; 409 when the page shows an older state. */
export const POST = endpoint(async ({ em, pool, request, param }) => {
  const seen = await seenSchema.validate(await request.json(), { strict: true });
  const { hash, name, bytes, validation, revision } = await new CharacterService(em, pool).ship(
    param('id'),
    seen,
  );
  return json({ hash, name, bytes: bytes.length, validation, revision });
});
