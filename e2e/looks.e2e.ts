import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { PNG } from 'pngjs';
import { createCard, GltfBuilder } from '../formats/test-gltf.ts';
import { inspect, openPage, openStage, type Stage } from './application.ts';

type Rgb = readonly [number, number, number];
const RED: Rgb = [220, 30, 20];

/** A picture of one colour whose right half is not there. */
function createCutOut(color: Rgb): Uint8Array {
  const png = new PNG({ width: 16, height: 16 });
  for (let i = 0; i < 256; i++) png.data.set([...color, i % 16 < 8 ? 255 : 0], 4 * i);
  return new Uint8Array(PNG.sync.write(png));
}

/** The strip of the tests with a picture whose right half is not there. */
function createCutCard(alphaMode: 'OPAQUE' | 'MASK'): Uint8Array {
  const builder = createCard(createCutOut(RED), alphaMode, { magFilter: 9728, wrapS: 33071, wrapT: 33071 });
  // Upright: the strip's own armature lays it down.
  builder.json.nodes![0]!.rotation = [0, 0, 0, 1];
  return builder.toGlb();
}

/** A red pane, half seen through, before a blue one: the near one comes first in the list of triangles. */
function createPanes(): Uint8Array {
  const builder = new GltfBuilder();
  const png = new PNG({ width: 8, height: 8 });
  for (let i = 0; i < 64; i++) png.data.set(i % 8 < 4 ? [230, 20, 20, 128] : [20, 20, 230, 255], 4 * i);
  const pane = (z: number): number[] => [-0.5, 0, z, 0.5, 0, z, 0.5, 1, z, -0.5, 1, z];
  const uvs = (from: number): number[] => [from, 0, from + 0.3, 0, from + 0.3, 1, from, 1];
  builder.json.meshes = [
    {
      primitives: [
        {
          attributes: {
            POSITION: builder.add('VEC3', Float32Array.of(...pane(0.3), ...pane(0)), {
              min: [-0.5, 0, 0],
              max: [0.5, 1, 0.3],
            }),
            TEXCOORD_0: builder.add('VEC2', Float32Array.of(...uvs(0.1), ...uvs(0.6))),
          },
          indices: builder.add('SCALAR', Uint16Array.of(0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7)),
          material: 0,
        },
      ],
    },
  ];
  builder.json.nodes = [{ mesh: 0, name: 'panes' }];
  builder.json.scenes = [{ nodes: [0] }];
  Object.assign(builder.json, {
    images: [{ bufferView: builder.addView(new Uint8Array(PNG.sync.write(png))), mimeType: 'image/png' }],
    samplers: [{ magFilter: 9728, minFilter: 9728, wrapS: 33071, wrapT: 33071 }],
    textures: [{ source: 0, sampler: 0 }],
    materials: [
      {
        alphaMode: 'BLEND',
        doubleSided: true,
        pbrMetallicRoughness: { baseColorTexture: { index: 0 }, metallicFactor: 0 },
      },
    ],
  });
  return builder.toGlb();
}

describe("the file's own looks", () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage(0);
    page = await openPage(stage);
  });

  after(() => stage?.close());

  const open = async (files: { name: string; bytes: Uint8Array }[]): Promise<void> => {
    await page.goto(stage.application.address);
    await page
      .getByLabel('Character files for Saltreed')
      .setInputFiles(
        files.map((file) => ({ name: file.name, mimeType: '', buffer: Buffer.from(file.bytes) })),
      );
    await page.getByRole('heading', { level: 1, name: 'Intake' }).waitFor();
    await page.getByText(/^1 image, /).waitFor();
  };

  /** Colours of the picture: how many picture elements are red, and how many clay. */
  const count = async (): Promise<{ red: number; clay: number }> => {
    await page.waitForTimeout(600);
    const { data } = PNG.sync.read(await page.locator('canvas').first().screenshot());
    let [red, clay] = [0, 0];
    for (let i = 0; i < data.length; i += 4) {
      const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
      if (r > 90 && g < 0.4 * r && b < 0.4 * r) red++;
      else if (r - b > 12 && r - b < 60 && r > g && g > b && r < 215) clay++;
    }
    return { red, clay };
  };

  it('are shown as they are: whole where nothing is cut out, and half where the picture says so', async () => {
    await open([{ name: 'card.glb', bytes: createCutCard('OPAQUE') }]);
    const whole = await count();
    expect(whole.red).above(2000);
    await open([{ name: 'card-cut.glb', bytes: createCutCard('MASK') }]);
    const cut = await count();
    expect(cut.red / whole.red).within(0.4, 0.6);
  });

  it('give way to plain clay, and come back', async () => {
    const { red } = await count();
    const clay = page.getByRole('button', { name: 'Clay', exact: true });
    await clay.click();
    expect((await count()).red).equal(0);
    await clay.click();
    expect((await count()).red / red).within(0.8, 1.25);
  });

  it('show what lies behind a pane through it, whichever comes first in the file', async () => {
    await open([{ name: 'panes.glb', bytes: createPanes() }]);
    await page.waitForTimeout(600);
    const { data } = PNG.sync.read(await page.locator('canvas').first().screenshot());
    let [both, red] = [0, 0];
    for (let i = 0; i < data.length; i += 4) {
      const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
      if (g > 0.6 * Math.max(r, b)) continue;
      if (r > 60 && b > 60) both++;
      else if (r > 2 * b) red++;
    }
    expect(both).above(5000);
    // Beside the blue pane the ground is seen through the red one, not nothing.
    expect(red).below(both);
    expect(page.faults).deep.equal([]);
  });

  it('come with an OBJ, its materials and their images', async () => {
    const text = (lines: string[]): Uint8Array => new TextEncoder().encode(lines.join('\n'));
    await open([
      {
        name: 'flag.obj',
        bytes: text([
          'mtllib flag.mtl',
          ...['v -0.5 0 0', 'v 0.5 0 0', 'v 0.5 1 0', 'v -0.5 1 0'],
          ...['vt 0 0', 'vt 1 0', 'vt 1 1', 'vt 0 1'],
          'usemtl Cloth',
          'f 1/1 2/2 3/3 4/4',
        ]),
      },
      { name: 'flag.mtl', bytes: text(['newmtl Cloth', 'map_Kd flag.png', 'map_d flag.png']) },
      { name: 'flag.png', bytes: createCutOut(RED) },
    ]);
    expect((await count()).red).above(2000);
    expect(page.faults).deep.equal([]);
  });

  for (const size of [0.02, 20]) {
    it(`fill the picture of what is ${size} m large, and stands off the middle`, async () => {
      const corner = (x: number, y: number): string => `v ${(x + 3) * size} ${(y + 2) * size} 0`;
      const text = [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 1), 'f 1 2 3 4'].join('\n');
      await page.goto(stage.application.address);
      await page.getByLabel('Character files for Saltreed').setInputFiles({
        name: `square-${size}.obj`,
        mimeType: '',
        buffer: Buffer.from(text),
      });
      await page.waitForURL(/characters/);
      await page.waitForSelector('[data-preview=moving]');
      const places = await inspect(
        page,
        ({ viewport }, side) =>
          [
            [3, 2],
            [4, 2],
            [4, 3],
            [3, 3],
          ].map(([x, y]) => viewport.project([x! * side, y! * side, 0])),
        size,
      );
      const { width, height } = (await page.locator('canvas').first().boundingBox())!;
      for (const [x, y] of places) {
        expect(x).within(0, width);
        expect(y).within(0, height);
      }
      const heights = places.map(([, y]) => y);
      expect(Math.max(...heights) - Math.min(...heights)).above(0.6 * height);
    });
  }

  it('are served as images and as nothing else, and only those that are there', async () => {
    await page.goto(stage.application.address);
    await page.getByRole('link', { name: 'Open flag', exact: true }).click();
    await page.waitForURL(/characters/);
    const { pathname } = new URL(page.url());
    const base = `${stage.application.address}/api${pathname}/looks`;
    const image = await fetch(`${base}/0`);
    expect([image.status, image.headers.get('content-type')]).deep.equal([200, 'image/png']);
    for (const number of ['1', '-1', 'x', '0x0'])
      expect((await fetch(`${base}/${number}`)).status).equal(404);
  });
});
