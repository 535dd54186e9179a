import { ProjectService } from '../../../../server/services/project-service.ts';
import { projectEditSchema } from '../../../wire/projects.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** Renames, sets limits, deletes, or takes a deletion back. */
export const PATCH = endpoint(async ({ em, request, param }) => {
  const { name, isDeleted, limits } = await projectEditSchema.validate(await request.json());
  const projects = new ProjectService(em);
  if (isDeleted !== undefined) await projects.setDeleted(param('id'), isDeleted);
  if (name !== undefined) await projects.rename(param('id'), name);
  if (limits !== undefined) await projects.setLimits(param('id'), limits);
  return json({ ok: true });
});
