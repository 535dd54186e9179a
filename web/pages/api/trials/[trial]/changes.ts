import { TrialService } from '../../../../../server/trials/trial-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** What changed up to a trial since an earlier one, in words. */
export const GET = endpoint(async ({ em, param, url }) =>
  json({
    changes: await new TrialService(em).describeChanges(url.searchParams.get('since') ?? '', param('trial')),
  }),
);
