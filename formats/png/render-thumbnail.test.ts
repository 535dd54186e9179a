import { expect } from 'chai';
import { PNG } from 'pngjs';
import { readBasePictures } from '../looks/read-base-pictures.ts';
import { readCharacter } from '../read-character.ts';
import { createCard, createStrip } from '../test-gltf.ts';
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

  describe('with images', () => {
    /** The strip with a picture that is red on its left and blue on its right. @param alpha - Of the right half. */
    const createHalves = (alphaMode: string, alpha: number): Uint8Array => {
      const png = new PNG({ width: 8, height: 8 });
      for (let i = 0; i < 64; i++) png.data.set(i % 8 < 4 ? [230, 20, 20, 255] : [20, 20, 230, alpha], 4 * i);
      return createCard(new Uint8Array(PNG.sync.write(png)), alphaMode).toGlb();
    };

    const draw = async (bytes: Uint8Array): Promise<{ red: number; blue: number }> => {
      const files = [{ name: 'card.glb', bytes }];
      const { character } = await readCharacter(files);
      const pictures = readBasePictures(character, files);
      const { data } = PNG.sync.read(
        Buffer.from(renderThumbnail(character, { width: 80, height: 100, turn: 0, pictures })),
      );
      let [red, blue] = [0, 0];
      for (let i = 0; i < data.length; i += 4) {
        if (data[i + 3]! < 255) continue;
        if (data[i]! > 3 * data[i + 2]!) red++;
        else if (data[i + 2]! > 3 * data[i]!) blue++;
      }
      return { red, blue };
    };

    it('show them where the UVs say', async () => {
      const { red, blue } = await draw(createHalves('OPAQUE', 0));
      expect(red).above(200);
      expect(blue / red).within(0.7, 1.4);
    });

    it('leave out what they cut out', async () => {
      const { red, blue } = await draw(createHalves('MASK', 0));
      expect(red).above(200);
      expect(blue).equal(0);
    });

    it('do without images that cannot be read', async () => {
      const bytes = createHalves('OPAQUE', 255);
      const at = Buffer.from(bytes).indexOf('IDAT');
      bytes.fill(0, at + 4, at + 12);
      expect(await draw(bytes)).deep.equal({ red: 0, blue: 0 });
    });
  });
});
