import { readCrowd } from '../../../../../server/services/crowd-service.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** What is planned of the characters of a project together, and what each was measured to cost. */
export const GET = endpoint(async ({ em, param }) => json(await readCrowd(em, param('id'))));
