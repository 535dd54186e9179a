import { AuthoredService } from '../../../../../server/services/authored-service.ts';
import { ChangesSchema } from '../../../../../server/services/change-schema.ts';
import type { RecordChange } from '../../../../../server/services/record-change.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Saves changed records, all or none; 409 with the newer ones when another window was first. */
export const POST = endpoint(async ({ em, request, param }) => {
  const { changes } = await ChangesSchema.validate(await request.json(), { strict: true });
  const decoded = changes.map(
    ({ array, ...change }): RecordChange => ({
      ...(change as RecordChange),
      ...(array ? { array: new Uint8Array(Buffer.from(array, 'base64')) } : {}),
    }),
  );
  return json(await new AuthoredService(em).write(param('id'), decoded));
});
