import { expect } from 'chai';
import { PNG } from 'pngjs';
import { readCharacter } from '../read-character.ts';
import { createStrip } from '../test-gltf.ts';
import { renderThumbnail } from './render-thumbnail.ts';

describe('pictures of characters', () => {
  it('are PNGs that an independent decoder reads: the character in the middle, nothing around it', async () => {
    const { character } = await readCharacter([{ name: 'strip.glb', bytes: createStrip().toGlb() }]);
    character.sections[0]!.baseColor = [0.8, 0.1, 0.1, 1];
    const png = PNG.sync.read(Buffer.from(renderThumbnail(character, { width: 80, height: 100, turn: 0 })));
    expect([png.width, png.height]).deep.equal([80, 100]);
    const alpha = (x: number, y: number): number => png.data[4 * (y * 80 + x) + 3]!;
    for (const [x, y] of [
      [0, 0],
      [79, 0],
      [0, 99],
      [79, 99],
    ] as const)
      expect(alpha(x, y)).equal(0);
    let covered = 0;
    let reddest = 0;
    for (let i = 0; i < png.data.length; i += 4) {
      if (png.data[i + 3]! < 255) continue;
      covered++;
      reddest = Math.max(reddest, png.data[i]! - png.data[i + 1]!);
    }
    expect(covered).within(200, 7000);
    expect(reddest).above(60);
  });

  it('show a clip at a time when asked', async () => {
    const { character } = await readCharacter([{ name: 'strip.glb', bytes: createStrip().toGlb() }]);
    const at = (time: number): string =>
      Buffer.from(renderThumbnail(character, { width: 40, height: 50, clip: { index: 0, time } })).toString(
        'base64',
      );
    expect(at(0)).equal(at(0));
    expect(at(0)).not.equal(at(1));
  });
});
