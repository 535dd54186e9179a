import { orderCalibration } from '../../../server/tasks/order-calibration.ts';
import { endpoint, json } from './_endpoint.ts';

export const prerender = false;

/** Orders measuring what work costs on this machine. */
export const POST = endpoint(async ({ em, openQueue }) =>
  json(await orderCalibration(em, await openQueue()), 201),
);
