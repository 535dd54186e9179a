import { ProjectService } from '../../../../server/services/project-service.ts';
import { editSchema } from '../../../wire/fields.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** Renames, deletes, or takes a deletion back. */
export const PATCH = endpoint(async ({ em, request, param }) => {
  const { name, isDeleted } = await editSchema.validate(await request.json());
  const projects = new ProjectService(em);
  if (isDeleted !== undefined) await projects.setDeleted(param('id'), isDeleted);
  if (name !== undefined) await projects.rename(param('id'), name);
  return json({ ok: true });
});
