import { ProjectService } from '../../../../server/services/project-service.ts';
import { chooseTarget } from '../../../../server/services/target-service.ts';
import { projectEditSchema } from '../../../wire/projects.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** Renames, sets limits, the target profile or the crowd, deletes, or takes a deletion back. */
export const PATCH = endpoint(async ({ em, request, param }) => {
  const { name, isDeleted, limits, targetId, crowd } = await projectEditSchema.validate(await request.json());
  const projects = new ProjectService(em);
  if (isDeleted !== undefined) await projects.setDeleted(param('id'), isDeleted);
  if (name !== undefined) await projects.rename(param('id'), name);
  if (limits !== undefined) await projects.setLimits(param('id'), limits);
  if (crowd !== undefined) await projects.setCrowd(param('id'), crowd);
  if (targetId !== undefined) {
    await projects.find(param('id'));
    await chooseTarget(em, param('id'), targetId);
  }
  return json({ ok: true });
});
