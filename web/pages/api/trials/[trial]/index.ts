import { TrialService } from '../../../../../server/trials/trial-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** What a trial played, in its order. */
export const GET = endpoint(async ({ em, param }) =>
  json({ cases: await new TrialService(em).readCases(param('trial')) }),
);
