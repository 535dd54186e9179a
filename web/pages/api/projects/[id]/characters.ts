import { READ_LIMITS, type SourceFile } from '../../../../../formats/index.ts';
import { CharacterService } from '../../../../../server/services/character-service.ts';
import { ServiceError } from '../../../../../server/services/service-error.ts';
import { endpoint, json } from '../../_endpoint.ts';

export const prerender = false;

/** Brings dropped files in as a new character. The body is a form with one or more `files`. */
export const POST = endpoint(async ({ em, pool, request, param }) => {
  const length = Number(request.headers.get('content-length') ?? 0);
  if (length > READ_LIMITS.bytes) {
    throw new ServiceError(
      413,
      `${Math.round(length / 2 ** 20)} MiB are too much; at most ${READ_LIMITS.bytes / 2 ** 20} MiB are taken.`,
    );
  }
  const form = await request.formData();
  const files: SourceFile[] = [];
  for (const entry of form.getAll('files')) {
    if (entry instanceof File)
      files.push({ name: entry.name, bytes: new Uint8Array(await entry.arrayBuffer()) });
  }
  const character = await new CharacterService(em, pool).bringIn(param('id'), files);
  return json({ id: character.id, name: character.name, report: character.report }, 201);
});
