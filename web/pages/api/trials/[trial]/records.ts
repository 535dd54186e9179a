import { TrialService } from '../../../../../server/trials/trial-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Everything that was authored on the state that a trial is of; numbers beside records are named by blob. */
export const GET = endpoint(async ({ em, param }) =>
  json({ records: await new TrialService(em).readRecords(param('trial')) }),
);
