import { parseTargetFile } from '../../../../core/budget/index.ts';
import { ServiceError } from '../../../../server/services/service-error.ts';
import { createTarget, listTargets } from '../../../../server/services/target-service.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** All target profiles. */
export const GET = endpoint(async ({ em }) => json({ targets: await listTargets(em) }));

/** Keeps one that was exported as a file, or made of timings. */
export const POST = endpoint(async ({ em, request }) => {
  const text = await request.text();
  let made: ReturnType<typeof parseTargetFile>;
  try {
    made = parseTargetFile(text);
  } catch (error) {
    throw new ServiceError(422, (error as Error).message);
  }
  return json(await createTarget(em, made), 201);
});
