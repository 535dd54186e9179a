import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';
import { createGzip } from 'node:zlib';

type PageHandler = (request: IncomingMessage, response: ServerResponse) => unknown;

const NO_FRAMES = "frame-ancestors 'none'";

/** On every answer, static files too: shared memory needs the first three. */
const HEADERS: Readonly<Record<string, string>> = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  // Nobody may show us inside a page of theirs. A page's own policy comes on top.
  'Content-Security-Policy': NO_FRAMES,
};

const COMPRESSIBLE = /^(text\/|application\/(javascript|json|wasm))/;

/** Puts the headers on, refuses other hosts' requests, and compresses what is worth it. */
export function wrapHandler(handler: PageHandler): RequestListener {
  return (request, response) => {
    for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
    const refusal = findRefusal(request);
    if (refusal) {
      response.writeHead(403, { 'Content-Type': 'application/json' });
      response.end(JSON.stringify({ error: { message: refusal } }));
      return;
    }
    const mayCompress = /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''));
    filterAnswer(response, mayCompress);
    handler(request, response);
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

/**
 * Styles may be inline (components place themselves with them); a hash beside 'unsafe-inline' would switch that off
 * again, and the page framework always adds some.
 */
export function allowInlineStyles(policy: string): string {
  return policy.replace(/style-src [^;]*/, "style-src 'self' 'unsafe-inline'");
}

/** Mends the policy, and streams the answer through gzip when its type is worth it; decided with the headers. */
function filterAnswer(response: ServerResponse, mayCompress: boolean): void {
  const { writeHead } = response;
  const write = response.write.bind(response) as (...args: unknown[]) => boolean;
  const end = response.end.bind(response) as (...args: unknown[]) => ServerResponse;
  let zip: ReturnType<typeof createGzip> | null = null;
  const decide = (): void => {
    const type = String(response.getHeader('content-type') ?? '');
    if (response.getHeader('content-encoding') || !COMPRESSIBLE.test(type) || type.includes('event-stream'))
      return;
    response.setHeader('Content-Encoding', 'gzip');
    response.setHeader('Vary', 'Accept-Encoding');
    response.removeHeader('Content-Length');
    zip = createGzip({ level: 5 });
    zip.on('data', (chunk: Buffer) => write(chunk));
    zip.on('end', () => end());
    // Whoever writes to the answer waits for it to drain, but it is the packer that was full.
    zip.on('drain', () => response.emit('drain'));
  };
  response.writeHead = ((status: number, ...rest: unknown[]) => {
    const headers = rest.find((part) => typeof part === 'object') as Record<string, string> | undefined;
    for (const [name, value] of Object.entries(headers ?? {})) response.setHeader(name, value);
    const policy = response.getHeader('content-security-policy');
    if (typeof policy === 'string' && policy !== NO_FRAMES)
      response.setHeader('Content-Security-Policy', `${allowInlineStyles(policy)}; ${NO_FRAMES}`);
    if (status === 200 && mayCompress) decide();
    return writeHead.call(response, status);
  }) as typeof response.writeHead;
  response.write = ((chunk: Buffer, ...rest: []) => {
    if (!response.headersSent) response.writeHead(response.statusCode);
    return zip ? zip.write(chunk) : write(chunk, ...rest);
  }) as typeof response.write;
  response.end = ((chunk?: Buffer, ...rest: []) => {
    if (!response.headersSent) response.writeHead(response.statusCode);
    if (!zip) return end(chunk, ...rest);
    zip.end(chunk);
    return response;
  }) as typeof response.end;
}
