import { READ_LIMITS, type SourceFile } from '../../../formats/index.ts';
import { ServiceError } from '../../../server/services/service-error.ts';

/** Dropped files of a form with one or more `files`, and the form for what else it says. @throws {ServiceError} 413 */
export async function readFiles(request: Request): Promise<{ files: SourceFile[]; form: FormData }> {
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
  return { files, form };
}
