import { editTarget, removeTarget } from '../../../../server/services/target-service.ts';
import { targetEditSchema } from '../../../wire/targets.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** Other settings, or another name. */
export const PATCH = endpoint(async ({ em, request, param }) =>
  json(await editTarget(em, param('id'), await targetEditSchema.validate(await request.json()))),
);

/** Takes it away; projects that used it go by this machine again. */
export const DELETE = endpoint(async ({ em, param }) =>
  json({ projects: await removeTarget(em, param('id')) }),
);
