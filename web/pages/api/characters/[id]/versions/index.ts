import { VersionService } from '../../../../../../server/services/version-service.ts';
import { newVersionSchema } from '../../../../../wire/versions.ts';
import { endpoint, json } from '../../../_endpoint.ts';

export const prerender = false;

/** Versions to return to, with what changed in words. */
export const GET = endpoint(async ({ em, param }) => json(await new VersionService(em).list(param('id'))));

/** Keeps the present state. */
export const POST = endpoint(async ({ em, request, param }) => {
  const { name } = await newVersionSchema.validate(await request.json(), { strict: true });
  const version = await new VersionService(em).keep(param('id'), name);
  return json({ id: version?.id ?? null }, version ? 201 : 200);
});
