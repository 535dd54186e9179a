import { VersionService } from '../../../../../../server/services/version-service.ts';
import { versionNameSchema } from '../../../../../wire/versions.ts';
import { endpoint, json } from '../../../_endpoint.ts';

export const prerender = false;

/** Everything that a version holds; numbers beside records are named by blob. */
export const GET = endpoint(async ({ em, param }) =>
  json({ records: await new VersionService(em).read(param('id'), param('version')) }),
);

export const PATCH = endpoint(async ({ em, request, param }) => {
  const { name } = await versionNameSchema.validate(await request.json(), { strict: true });
  await new VersionService(em).rename(param('id'), param('version'), name);
  return json({ ok: true });
});

export const DELETE = endpoint(async ({ em, param }) => {
  await new VersionService(em).remove(param('id'), param('version'));
  return json({ ok: true });
});
