import { expect } from 'chai';
import { createSheet } from '../../core/cloth/test-cloth.ts';
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
const ask = <K extends ImageReply['kind']>(
  loop: MapImageLoop,
  request: ImageRequest,
  kind: K,
): Extract<ImageReply, { kind: K }> => {
  const reply = loop.take(request);
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

  it('writes an image that it reads back, with the range that it states', () => {
    const loop = new MapImageLoop();
    const options = { size: 256, depth: 16, low: 0, high: 0.4 } as const;
    const written = ask(
      loop,
      { kind: 'write', mesh, values: VALUES, channel: 'maxDistance', options },
      'written',
    );
    expect(written.worst.away).at.most(1);
    expect(written.cutOff).equal(0);
    const opened = ask(loop, { kind: 'open', bytes: written.png, file: 'map.png' }, 'opened');
    expect(opened).deep.include({ width: 256, height: 256, depth: 16, channels: ['grey'] });
    expect(opened.range).deep.equal({ channel: 'maxDistance', low: 0, high: 0.4 });
    const { change } = ask(loop, { kind: 'read', ...read }, 'read');
    expect(change.indices.length).equal(72);
    change.indices.forEach((point, k) => {
      expect(change.after[k]).closeTo(VALUES[point]!, 0.4 / 65535);
    });
    const half = ask(loop, { kind: 'read', ...read, high: 0.2 }, 'read').change;
    expect(half.after[71]).closeTo(change.after[71]! / 2, 1e-5);
    const mask = Uint8Array.from({ length: 81 }, (_, p) => (p === 80 ? 1 : 0));
    expect([...ask(loop, { kind: 'read', ...read, mask }, 'read').change.indices]).deep.equal([80]);
    // Prepared anew meanwhile: nothing is changed.
    expect(
      ask(loop, { kind: 'read', ...read, values: new Float32Array(5) }, 'read').change.indices.length,
    ).equal(0);
  });

  it('draws the layout as a picture', () => {
    const loop = new MapImageLoop();
    const { png } = ask(loop, { kind: 'layout', mesh, size: 64 }, 'drawn');
    expect(ask(loop, { kind: 'open', bytes: png, file: 'layout.png' }, 'opened')).include({
      width: 64,
      depth: 8,
    });
  });

  it('says why it refuses, and about which vertices', () => {
    const loop = new MapImageLoop();
    expect(ask(loop, { kind: 'read', ...read }, 'refused').message).contain('No image is open');
    const folded = {
      ...mesh,
      uvs: mesh.uvs!.map((value, i) => (i % 2 === 0 && value > 0.5 ? 1 - value : value)),
    };
    const refused = ask(loop, { kind: 'layout', mesh: { ...mesh, uvs: null }, size: 64 }, 'refused');
    expect(refused.message).contain('has no UVs');
    const options = { size: 128, depth: 8, low: 0, high: 1 } as const;
    const overlap = ask(
      loop,
      { kind: 'write', mesh: folded, values: VALUES, channel: 'maxDistance', options },
      'refused',
    );
    expect(overlap.message).contain('share UV area');
    expect(overlap.vertices.length).above(20);
    const broken = ask(loop, { kind: 'open', bytes: Uint8Array.of(1, 2, 3), file: 'x.png' }, 'refused');
    expect(broken.message).contain('x.png: It is not a PNG image.');
  });
});
