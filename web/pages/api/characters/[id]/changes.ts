import { AuthoredService } from '../../../../../server/services/authored-service.ts';
import type { RecordChange } from '../../../../../server/services/record-change.ts';
import { ServiceError } from '../../../../../server/services/service-error.ts';
import { saveHeaderSchema } from '../../../../wire/characters.ts';
import { decodeSave, MOST_SAVE_BYTES } from '../../../../wire/save-format.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Saves changed records, all or none; 409 with the newer ones when another window was first. */
export const POST = endpoint(async ({ em, request, param }) => {
  const bytes = new Uint8Array(await request.arrayBuffer());
  if (bytes.length > MOST_SAVE_BYTES)
    throw new ServiceError(413, `A save of ${Math.round(bytes.length / 2 ** 20)} MiB is too large.`);
  const { header, arrays } = decodeSave(bytes);
  const { window, changes } = await saveHeaderSchema.validate(header, { strict: true });
  const decoded = changes.map(({ id, baseVersion, record }, i): RecordChange => {
    const array = arrays[i];
    return { id, baseVersion, record: record as RecordChange['record'], ...(array && { array }) };
  });
  return json(await new AuthoredService(em).write(param('id'), decoded, window));
});
