import { BlobService } from '../../../../server/services/blob-service.ts';
import { ServiceError } from '../../../../server/services/service-error.ts';
import { endpoint } from '../_endpoint.ts';

export const prerender = false;

/** Only these are ever shown as what they are; all else is a download. */
const TYPES: Readonly<Record<string, string>> = { png: 'image/png', glb: 'model/gltf-binary' };

/** Bytes by hash. `?type=png` shows a picture, `?name=` offers a download under that name. */
export const GET = endpoint(async ({ em, param, url }) => {
  const bytes = await new BlobService(em).get(param('hash'));
  if (!bytes) throw new ServiceError(404, 'There are no such bytes in the store.');
  const type = url.searchParams.get('type') ?? '';
  const headers: Record<string, string> = {
    'Content-Type': TYPES[type] ?? 'application/octet-stream',
    // The name is the hash of the content: it never changes.
    'Cache-Control': 'private, max-age=31536000, immutable',
  };
  const name = url.searchParams.get('name');
  if (name) headers['Content-Disposition'] = `attachment; filename*=UTF-8''${encodeURIComponent(name)}`;
  return new Response(new Uint8Array(bytes), { headers });
});
