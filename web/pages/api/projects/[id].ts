import { boolean, object, string } from 'yup';
import { ProjectService } from '../../../../server/services/project-service.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

const Edit = object({ name: string().max(1000), isDeleted: boolean() });

/** Renames, deletes, or takes a deletion back. */
export const PATCH = endpoint(async ({ em, request, param }) => {
  const { name, isDeleted } = await Edit.validate(await request.json());
  const projects = new ProjectService(em);
  if (isDeleted !== undefined) await projects.setDeleted(param('id'), isDeleted);
  if (name !== undefined) await projects.rename(param('id'), name);
  return json({ ok: true });
});
