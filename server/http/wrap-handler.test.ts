import { createServer, request, type Server } from 'node:http';
import { gunzipSync } from 'node:zlib';
import { expect } from 'chai';
import { completePolicy } from './page-policy.ts';
import { wrapHandler } from './wrap-handler.ts';

describe('the server around the pages', () => {
  let server: Server;
  let port: number;
  const long = 'cloth '.repeat(50_000);

  before(async () => {
    server = createServer(
      wrapHandler((incoming, response) => {
        response.writeHead(200, {
          'Content-Type': incoming.url === '/png' ? 'image/png' : 'text/html',
        });
        // Writes in pieces and waits for the answer to drain, as pages and files do.
        let sent = 0;
        const next = (): void => {
          while (sent < long.length) {
            const piece = long.slice(sent, sent + 16_384);
            sent += piece.length;
            if (!response.write(Buffer.from(piece))) {
              response.once('drain', next);
              return;
            }
          }
          response.end();
        };
        next();
      }),
    );
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    port = (server.address() as { port: number }).port;
  });

  after(() => server.close());

  const send = (options: {
    method?: string;
    path?: string;
    headers?: Record<string, string>;
  }): Promise<{ status: number; headers: Record<string, unknown>; body: Buffer }> =>
    new Promise((resolve, reject) => {
      const sending = request({ host: '127.0.0.1', port, ...options }, (response) => {
        const chunks: Buffer[] = [];
        response.on('data', (chunk: Buffer) => chunks.push(chunk));
        response.on('end', () =>
          resolve({ status: response.statusCode!, headers: response.headers, body: Buffer.concat(chunks) }),
        );
      });
      sending.on('error', reject);
      sending.end();
    });

  it('isolates every answer for shared memory', async () => {
    const { headers } = await send({});
    expect(headers['cross-origin-opener-policy']).equal('same-origin');
    expect(headers['cross-origin-embedder-policy']).equal('require-corp');
    expect(headers['content-security-policy']).equal("frame-ancestors 'none'");
    const refused = await send({ method: 'POST' });
    expect(refused.headers['content-security-policy']).equal("frame-ancestors 'none'");
  });

  it('packs long texts and leaves pictures alone', async () => {
    const accept = { 'Accept-Encoding': 'gzip' };
    const text = await send({ headers: accept });
    expect(text.headers['content-encoding']).equal('gzip');
    expect(gunzipSync(text.body).toString()).equal(long);
    const picture = await send({ path: '/png', headers: accept });
    expect(picture.headers['content-encoding']).equal(undefined);
    expect(picture.body.length).equal(long.length);
  });

  it('answers its own pages only', async () => {
    expect((await send({ headers: { Host: 'evil.example' } })).status).equal(403);
    expect((await send({ method: 'POST', headers: { Origin: 'http://evil.example' } })).status).equal(403);
    expect((await send({ method: 'POST' })).status).equal(403);
    expect((await send({ method: 'POST', headers: { Origin: `http://127.0.0.1:${port}` } })).status).equal(
      200,
    );
    expect(
      (
        await send({
          method: 'PATCH',
          headers: { Host: `localhost:${port}`, Origin: `http://127.0.0.1:${port}` },
        })
      ).status,
    ).equal(403);
  });

  it('leaves the policy for scripts as strict as it is', () => {
    expect(completePolicy("script-src 'self' 'sha256-a'; style-src 'self' 'sha256-x';")).equal(
      "script-src 'self' 'sha256-a'; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'",
    );
  });
});
