import { expect } from 'chai';
import { createSheet } from '../../core/cloth/test-cloth.ts';
import { packGrey } from '../../formats/png/map-png.ts';
import { type ImageMesh, type ImageReply, type ImageRequest, MapImageLoop } from './map-image-loop.ts';

/** A sheet of 9 × 9 points whose UVs fill most of the square. */
function createMesh(): ImageMesh {
  const { positions, triangles } = createSheet(8, 8, (u, v) => [u, -v, 0]);
  const uvs = Float32Array.from({ length: 162 }, (_, i) => {
    const p = Math.floor(i / 2);
    return 0.05 + (0.9 * (i % 2 === 0 ? p % 9 : Math.floor(p / 9))) / 8;
  });
  return { name: 'sheet', positions, triangles, uvs, lining: null };
}

const VALUES = Float32Array.from({ length: 81 }, (_, p) => 0.05 * Math.floor(p / 9));
const ask = async <K extends ImageReply['kind']>(
  loop: MapImageLoop,
  request: ImageRequest,
  kind: K,
): Promise<Extract<ImageReply, { kind: K }>> => {
  const reply = await loop.take(request);
  expect(reply.kind, reply.kind === 'refused' ? reply.message : '').equal(kind);
  return reply as Extract<ImageReply, { kind: K }>;
};

describe('the worker that writes and reads images of maps', () => {
  const mesh = createMesh();
  const read: Omit<Extract<ImageRequest, { kind: 'read' }>, 'kind'> = {
    mesh,
    values: new Float32Array(81),
    channel: 'maxDistance',
    part: 'grey',
    low: 0,
    high: 0.4,
    soften: 0,
    mask: null,
  };

  it('writes an image that it reads back, with the range that it states', async () => {
    const loop = new MapImageLoop();
    const options = { size: 256, depth: 16, low: 0, high: 0.4 } as const;
    const written = await ask(
      loop,
      { kind: 'write', mesh, values: VALUES, channel: 'maxDistance', options },
      'written',
    );
    expect(written.worst.away).at.most(1);
    expect(written.cutOff).equal(0);
    const opened = await ask(
      loop,
      { kind: 'open', file: new Blob([written.png as BlobPart]), name: 'map.png' },
      'opened',
    );
    expect(opened).deep.include({ width: 256, height: 256, depth: 16, channels: ['grey'] });
    expect(opened.range).deep.equal({ channel: 'maxDistance', low: 0, high: 0.4 });
    const { change } = await ask(loop, { kind: 'read', ...read }, 'read');
    expect(change.indices.length).equal(72);
    change.indices.forEach((point, k) => {
      expect(change.after[k]).closeTo(VALUES[point]!, 0.4 / 65535);
    });
    const half = (await ask(loop, { kind: 'read', ...read, high: 0.2 }, 'read')).change;
    expect(half.after[71]).closeTo(change.after[71]! / 2, 1e-5);
    const mask = Uint8Array.from({ length: 81 }, (_, p) => (p === 80 ? 1 : 0));
    expect([...(await ask(loop, { kind: 'read', ...read, mask }, 'read')).change.indices]).deep.equal([80]);
    // Prepared anew meanwhile: nothing is changed.
    expect(
      (await ask(loop, { kind: 'read', ...read, values: new Float32Array(5) }, 'read')).change.indices.length,
    ).equal(0);
  });

  it('draws the layout as a picture', async () => {
    const loop = new MapImageLoop();
    const { png } = await ask(loop, { kind: 'layout', mesh, size: 64 }, 'drawn');
    expect(
      await ask(loop, { kind: 'open', file: new Blob([png as BlobPart]), name: 'layout.png' }, 'opened'),
    ).include({
      width: 64,
      depth: 8,
    });
  });

  it('says why it refuses, and about which vertices', async () => {
    const loop = new MapImageLoop();
    expect((await ask(loop, { kind: 'read', ...read }, 'refused')).message).contain('No image is open');
    const folded = {
      ...mesh,
      uvs: mesh.uvs!.map((value, i) => (i % 2 === 0 && value > 0.5 ? 1 - value : value)),
    };
    const refused = await ask(loop, { kind: 'layout', mesh: { ...mesh, uvs: null }, size: 64 }, 'refused');
    expect(refused.message).contain('has no UVs');
    const options = { size: 128, depth: 8, low: 0, high: 1 } as const;
    const overlap = await ask(
      loop,
      { kind: 'write', mesh: folded, values: VALUES, channel: 'maxDistance', options },
      'refused',
    );
    expect(overlap.message).contain('share UV area');
    expect(overlap.vertices.length).above(20);
    const broken = await ask(
      loop,
      { kind: 'open', file: new Blob([Uint8Array.of(1, 2, 3) as BlobPart]), name: 'x.png' },
      'refused',
    );
    expect(broken.message).contain('x.png: It is not a PNG image.');
    // Told by its first bytes: the rest is not read.
    const huge = new Blob([packGrey(16, 8, new Uint8Array(256)) as BlobPart]);
    const head = new Uint8Array(await huge.slice(0, 64).arrayBuffer());
    new DataView(head.buffer).setUint32(16, 16384);
    new DataView(head.buffer).setUint32(20, 16384);
    const large = await ask(
      loop,
      { kind: 'open', file: new Blob([head as BlobPart]), name: 'huge.png' },
      'refused',
    );
    expect(large.message).contain('huge.png: It has 16,384 by 16,384 picture elements');
    expect(large.message).contain('Scale it down');
  });
});
