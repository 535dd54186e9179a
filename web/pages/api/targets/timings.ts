import { readTimings } from '../../../../core/budget/index.ts';
import { readCostProfile } from '../../../../server/services/cost-service.ts';
import { ServiceError } from '../../../../server/services/service-error.ts';
import { timingsSchema } from '../../../wire/targets.ts';
import { endpoint, json } from '../_endpoint.ts';

export const prerender = false;

/** What a table of timings tells of unit costs. Nothing is kept. */
export const POST = endpoint(async ({ em, pool, request }) => {
  const { csv } = await timingsSchema.validate(await request.json());
  try {
    readTimings(csv);
  } catch (error) {
    throw new ServiceError(422, (error as Error).message);
  }
  const base = await readCostProfile(em);
  return json(await pool.fitTimings(csv, base.costs));
});
