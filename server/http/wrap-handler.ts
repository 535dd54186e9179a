import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';
import compression from 'compression';
import { NO_FRAMES } from './page-policy.ts';

type PageHandler = (request: IncomingMessage, response: ServerResponse) => unknown;

/** On every answer, static files too: shared memory needs the first three. */
const HEADERS: Readonly<Record<string, string>> = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  // A page's own policy comes in its place, see `completePolicy`.
  'Content-Security-Policy': NO_FRAMES,
};

/** Puts the headers on, refuses other hosts' requests, and compresses what is worth it. */
export function wrapHandler(handler: PageHandler): RequestListener {
  const compress = compression({ level: 5 });
  return (request, response) => {
    for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
    const refusal = findRefusal(request);
    if (refusal) {
      response.writeHead(403, { 'Content-Type': 'application/json' });
      response.end(JSON.stringify({ error: { message: refusal } }));
      return;
    }
    // The types are those of a framework around these two.
    compress(request as never, response as never, () => handler(request, response));
  };
}

/**
 * A page of another site must not reach us through the user's browser: the Host must be loopback (so that a name
 * made to point here does not work), and a write must come from our own pages.
 */
export function findRefusal(request: Pick<IncomingMessage, 'method' | 'headers'>): string | null {
  const host = request.headers.host ?? '';
  const name = host.replace(/:\d+$/, '');
  if (!['127.0.0.1', 'localhost', '[::1]'].includes(name))
    return `Requests for the host "${host}" are not answered here.`;
  if (request.method === 'GET' || request.method === 'HEAD') return null;
  const origin = request.headers.origin;
  if (origin !== `http://${host}`) return 'Writes are taken from our own pages only.';
  return null;
}
