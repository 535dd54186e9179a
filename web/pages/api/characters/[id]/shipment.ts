import { number, object, string } from 'yup';
import { CharacterService } from '../../../../../server/services/character-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** What the page that asks has on its screen. */
const Seen = object({
  source: string().length(64).required(),
  versions: object()
    .required()
    .test('versions', 'versions are whole numbers by record', (value) =>
      Object.values(value).every((version) => number().integer().min(0).required().isValidSync(version)),
    ),
});

/** Writes the finished file, checks it, and says where to fetch it; 409 when the page shows an older state. */
export const POST = endpoint(async ({ em, pool, request, param }) => {
  const seen = await Seen.validate(await request.json(), { strict: true });
  const { hash, name, bytes, validation, revision } = await new CharacterService(em, pool).ship(param('id'), {
    source: seen.source,
    versions: seen.versions as Record<string, number>,
  });
  return json({ hash, name, bytes: bytes.length, validation, revision });
});
