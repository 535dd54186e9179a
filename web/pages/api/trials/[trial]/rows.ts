import { TrialService } from '../../../../../server/trials/trial-service.ts';
import { joinParts } from '../../../../wire/trial-bytes.ts';
import { endpoint } from '../../_endpoint.ts';

export const prerender = false;

/** Every value of every frame, see `joinParts`. It never changes. */
export const GET = endpoint(async ({ em, param }) => {
  const { measured, machine } = await new TrialService(em).readRows(param('trial'));
  return new Response(joinParts(measured, machine) as Uint8Array<ArrayBuffer>, {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'private, max-age=31536000, immutable',
    },
  });
});
