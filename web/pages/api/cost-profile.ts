import { readCostProfile } from '../../../server/services/cost-service.ts';
import { orderCalibration } from '../../../server/tasks/order-calibration.ts';
import { endpoint, json } from './_endpoint.ts';

export const prerender = false;

/** What work costs on the machine that counts. */
export const GET = endpoint(async ({ em }) => json({ profile: await readCostProfile(em) }));

/** Orders measuring this machine. */
export const POST = endpoint(async ({ em, openQueue }) =>
  json(await orderCalibration(em, await openQueue()), 201),
);
