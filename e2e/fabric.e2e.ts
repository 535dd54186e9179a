import { createHash } from 'node:crypto';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { createThreeSkirts } from '../cli/bench/side-benches.ts';
import type { JointShape } from '../core/bodies/index.ts';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  type RecordId,
} from '../core/document/index.ts';
import { unpackCharacter } from '../core/rig/index.ts';
import { createRun } from '../core/run/index.ts';
import { getGltfIo, readCharacter, writeCharacter, writeShipment } from '../formats/index.ts';
import { inspect, openDemoStage, type Stage, waitUntilSaved } from './application.ts';
import { measureSlowness } from './machine-speed.ts';
import { measureStolen } from './stolen-time.ts';

/** No more than so is put down to the machine. */
const MOST_SLOWED = 1.6;

describe('the fabric stage', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
    await page.keyboard.press('6');
    await page.getByRole('heading', { name: 'Fabric' }).waitFor();
  });

  after(() => stage?.close());

  /** Name and settings of a garment's fabric. */
  const readFabric = (garment: string): Promise<{ name: string; density: number; friction: number }> =>
    inspect(
      page,
      ({ workbench }, wanted) => {
        const records = [...workbench.editor.document.records.values()];
        const worn = records.find((record) => record.type === 'garment' && record.name === wanted);
        const fabric = records.find((record) => worn?.type === 'garment' && record.id === worn.fabricId);
        if (fabric?.type !== 'fabric') throw new Error('no fabric');
        return { name: fabric.name, density: fabric.settings.density, friction: fabric.settings.friction };
      },
      garment,
    );

  it('gives a fabric of the library by a click, and marks what is changed from it', async () => {
    await page.getByRole('radio', { name: /^Denim/ }).click();
    expect((await readFabric('Poncho')).name).equal('Denim');
    const density = page.getByRole('textbox', { name: 'Density' });
    expect(await density.inputValue()).equal('400');
    await density.fill('300');
    await density.press('Enter');
    expect((await readFabric('Poncho')).density).closeTo(0.3, 1e-9);
    await page.getByText('1 changed').waitFor();
    expect(await page.getByText('Weight of a square metre: heavier cloth').isVisible()).equal(true);
    await page.getByRole('button', { name: 'Density back to its default' }).click();
    expect((await readFabric('Poncho')).density).closeTo(0.4, 1e-9);
    expect(await page.getByText('1 changed').isVisible()).equal(false);
    // Out of range is brought to the end of the range.
    await density.fill('999999');
    await density.press('Enter');
    expect((await readFabric('Poncho')).density).closeTo(5, 1e-9);
    await page.keyboard.press('Control+z');
  });

  it('says what the stiffness means for a piece that hangs, and what the mesh holds of it', async () => {
    const read = async (): Promise<{ longer: number; held: number }> => {
      const text = (await page.getByText(/^1 m hangs/).textContent())!;
      const [, longer, held] = /hangs ([\d.]+) mm longer.*?(?:holds (\d+) %|$)/.exec(text)!;
      return { longer: Number(longer), held: Number(held ?? 100) / 100 };
    };
    const type = async (name: string, value: string): Promise<void> => {
      const field = page.getByRole('textbox', { name, exact: true });
      await field.fill(value);
      await field.press('Enter');
      // The live run says what it holds twice a second.
      await page.waitForTimeout(1500);
    };
    await type('Density', '400');
    await type('Warp', '4000');
    const few = await read();
    expect(few.held).within(0.3, 0.95);
    expect(few.longer * few.held).closeTo((1000 * 0.4 * 9.80665) / 8000, 0.08);
    await type('Substeps', '1440');
    const many = await read();
    expect(many.held).above(few.held);
    expect(many.longer).below(few.longer);
    await type('Warp', '50');
    expect((await read()).longer).closeTo((1000 * 0.4 * 9.80665) / 100, 2);
    for (const name of ['Warp', 'Substeps'])
      await page.getByRole('button', { name: `${name} back to its default` }).click();
  });

  it('says what self-collision cannot do on so coarse a mesh', async () => {
    const distance = page.getByRole('textbox', { name: 'Self-collision' });
    await distance.fill('5');
    await distance.press('Enter');
    await page.getByText(/folds slip past each other unless/).waitFor();
    await distance.fill('25');
    await distance.press('Enter');
    await page.getByText(/folds slip past each other unless/).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Self-collision back to its default' }).click();
  });

  it('copies a fabric to another garment, and drops one on the list and on the character', async () => {
    await page.getByRole('button', { name: 'Copy fabric' }).click();
    await page.getByRole('button', { name: /^Sash tail/ }).click();
    await page.getByRole('button', { name: 'Paste fabric' }).click();
    expect((await readFabric('Sash tail')).name).equal('Denim');
    await page
      .getByRole('radio', { name: /^Velvet/ })
      .dragTo(page.getByRole('button', { name: /^Sash tail/ }));
    expect((await readFabric('Sash tail')).name).equal('Velvet');
    const place = await inspect(page, ({ viewport }) => viewport.project([0, 1.1, 0.1]));
    const box = (await page.getByRole('img', { name: 'The character' }).boundingBox())!;
    await page
      .getByRole('radio', { name: /^Chiffon/ })
      .dragTo(page.getByRole('img', { name: 'The character' }), {
        targetPosition: { x: place[0], y: Math.min(box.height - 5, place[1]) },
      });
    expect((await readFabric('Poncho')).name).equal('Chiffon');
    await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
    expect((await readFabric('Poncho')).name).equal('Denim');
    await waitUntilSaved(page);
  });

  it('sets the wind by dragging its arrow, which moves the cloth', async () => {
    const dial = (await page.getByRole('slider', { name: 'Wind', exact: true }).boundingBox())!;
    const [x, y] = [dial.x + dial.width / 2, dial.y + dial.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 24, y + 4, { steps: 4 });
    await page.mouse.up();
    const scene = (): Promise<{ windSpeed: number }> =>
      inspect(page, ({ workbench }) => {
        const found = [...workbench.editor.document.records.values()].find(({ type }) => type === 'scene');
        return found as unknown as { windSpeed: number };
      });
    expect((await scene()).windSpeed).within(6, 8.5);
    await page.getByRole('slider', { name: 'Wind', exact: true }).press('ArrowUp');
    // One drag is one step to take back, a key another.
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    expect((await scene()).windSpeed).equal(0);
  });

  it('pulls the cloth with the mouse, and lets it go', async () => {
    await page.getByRole('radio', { name: 'bind pose' }).click();
    await page.waitForTimeout(2500);
    // In the middle of the front, away from the borders: nothing lies before it, and there is cloth all around.
    const vertex = await inspect(page, ({ workbench }) => {
      const { layout, floats } = workbench.preview.readFrame()!;
      const { positions, vertexCount } = layout.garments[layout.garments.length - 1]!;
      const at = (v: number, axis: number): number => floats[positions + 3 * v + axis]!;
      let best = -1;
      for (let v = 0; v < vertexCount; v++) {
        const isMiddle = Math.abs(at(v, 0)) < 0.1 && at(v, 1) > 0.95 && at(v, 1) < 1.1;
        if (isMiddle && (best < 0 || at(v, 2) > at(best, 2))) best = v;
      }
      return best;
    });
    const readPosition = (): Promise<[number, number, number]> =>
      inspect(
        page,
        ({ workbench }, v) => {
          const { layout, floats } = workbench.preview.readFrame()!;
          const o = layout.garments[layout.garments.length - 1]!.positions + 3 * v;
          return [floats[o]!, floats[o + 1]!, floats[o + 2]!] as [number, number, number];
        },
        vertex,
      );
    const from = await readPosition();
    const [x, y] = await inspect(page, ({ viewport }, position) => viewport.project(position), from);
    const box = (await page.getByRole('img', { name: 'The character' }).boundingBox())!;
    await page.mouse.move(box.x + x, box.y + y);
    await page.mouse.down();
    await page.mouse.move(box.x + x - 60, box.y + y - 40, { steps: 8 });
    await page.waitForTimeout(900);
    const pulled = await readPosition();
    await page.mouse.up();
    await page.waitForTimeout(2500);
    const left = await readPosition();
    const apart = (p: number[], q: number[]): number => Math.hypot(...p.map((value, k) => value - q[k]!));
    expect(apart(pulled, from)).above(0.03);
    expect(apart(left, from)).below(0.7 * apart(pulled, from));
  });

  it('slows everything down, stops it, and steps one simulated frame', async () => {
    const count = (): Promise<number> =>
      inspect(page, ({ workbench }) => workbench.preview.readFrame()!.count);
    await page.getByRole('combobox', { name: 'Slow motion' }).selectOption('0.25');
    const before = await count();
    await page.waitForTimeout(2000);
    expect(((await count()) - before) / 2).within(12, 18);
    await page.keyboard.press('p');
    await page.waitForTimeout(300);
    const stopped = await count();
    await page.waitForTimeout(500);
    expect(await count()).equal(stopped);
    await page.keyboard.press('n');
    await page.waitForTimeout(300);
    expect(await count()).equal(stopped + 1);
  });

  it('simulates the same bytes as Node does', async () => {
    const id = page.url().split('/').pop()!;
    await waitUntilSaved(page);
    const frames = 90;
    const before = await inspect(page, ({ workbench }) => {
      workbench.playback.setClip(2);
      workbench.playback.setPlaying(true);
      workbench.playback.setPace(0);
      workbench.preview.send({ kind: 'seek', time: 0 });
      workbench.preview.send({ kind: 'reset' });
      return workbench.preview.readFrame()!.count;
    });
    await page.waitForTimeout(500);
    const start = await inspect(
      page,
      ({ workbench }, steps) => {
        const { count } = workbench.preview.readFrame()!;
        for (let i = 0; i < steps; i++) workbench.preview.send({ kind: 'step' });
        return count;
      },
      frames,
    );
    expect(start).at.least(before);
    await page.waitForFunction(
      (wanted) => {
        const { cobweb } = window as unknown as {
          cobweb: { workbench: { preview: { readFrame(): { count: number } } } };
        };
        return cobweb.workbench.preview.readFrame().count >= wanted;
      },
      start + frames,
      { timeout: 60_000 },
    );
    const shown = await inspect(page, ({ workbench }) => {
      const { layout, floats } = workbench.preview.readFrame()!;
      return layout.garments.map(({ positions, vertexCount }) => [
        ...floats.slice(positions, positions + 3 * vertexCount),
      ]);
    });
    const computed = await simulateInNode(stage.application.address, id, frames);
    const hash = (values: Iterable<number>): string =>
      createHash('sha256')
        .update(new Uint8Array(Float32Array.from(values).buffer))
        .digest('hex');
    expect(shown.map(hash)).deep.equal(computed.map(hash));
    expect(shown[1]!.length).above(1500);
  });

  it('keeps sixty frames a second with three garments of 1,500 points and 12 bodies each', async () => {
    const bytes = await shipThreeSkirts();
    // Without a graphics card the drawing takes its share of the same two processors: a small picture.
    await page.setViewportSize({ width: 900, height: 600 });
    await page.goto(stage.application.address);
    await page
      .getByLabel('Character files for Saltreed')
      .setInputFiles({ name: 'skirts.glb', mimeType: '', buffer: Buffer.from(bytes) });
    await page.waitForURL(/characters/);
    await page.waitForSelector('[data-preview=moving]');
    await page.getByRole('radio', { name: 'sway' }).click();
    await page.waitForSelector('[data-trial=done] [data-row=penetration]:not([data-shown=""])', {
      timeout: 270_000,
    });
    await page.waitForTimeout(1500);
    const measureRate = (): Promise<number> =>
      page.evaluate(async () => {
        const { cobweb } = window as unknown as {
          cobweb: { workbench: { preview: { readFrame(): { count: number } } } };
        };
        const start = performance.now();
        const before = cobweb.workbench.preview.readFrame().count;
        await new Promise((resolve) => setTimeout(resolve, 4000));
        return (1000 * (cobweb.workbench.preview.readFrame().count - before)) / (performance.now() - start);
      });
    // Whatever else the machine does counts too: the best of ten. What its host withholds, or slows down, lowers the rate by about as much.
    let best = 0;
    let slowness = measureSlowness();
    for (let i = 0; i < 10 && best < 57; i++) {
      const { result: rate, stolen } = await measureStolen(measureRate);
      const before = slowness;
      slowness = measureSlowness();
      const slowed = Math.min(MOST_SLOWED, 0.5 * (before + slowness));
      best = Math.max(best, (slowed * rate) / Math.max(0.5, 1 - 1.25 * stolen));
      expect(rate).below(62);
    }
    expect(best).above(57);
    expect(page.faults).deep.equal([]);
  });
});

/** Render vertices of every garment after so many frames of the third clip, as `CharacterRun` computes them here. */
async function simulateInNode(address: string, id: string, frames: number): Promise<Float32Array[]> {
  const read = async (path: string): Promise<Response> => fetch(address + path);
  const info = (await (await read(`/api/characters/${id}`)).json()) as {
    packedHash: string;
    records: { record: { id: RecordId }; arrayHash: string | null }[];
  };
  const document: AuthoredDocument = createDocument();
  for (const { record, arrayHash } of info.records) {
    document.records.set(record.id, record as never);
    if (!arrayHash) continue;
    const values = await (await read(`/api/blobs/${arrayHash}`)).arrayBuffer();
    document.arrays.set(record.id, new Float32Array(values));
  }
  const character = unpackCharacter(await (await read(`/api/blobs/${info.packedHash}`)).arrayBuffer());
  const run = createRun(document, character);
  run.play(2);
  run.reset();
  for (let i = 0; i < frames; i++) run.step();
  return run.garments.map(({ setup }, garment) => {
    const { length } = character.sections[setup.compiled.sectionIndex]!.positions;
    const vertices = new Float32Array(length);
    run.writeVertices(garment, vertices, new Float32Array(length));
    return vertices;
  });
}

/** The three skirts of the bench as a shipped file. */
async function shipThreeSkirts(): Promise<Uint8Array> {
  const skirts = createThreeSkirts();
  const plain = await (await getGltfIo()).writeBinary(writeCharacter(skirts.character));
  const source = await readCharacter([{ name: 'skirts.glb', bytes: plain }]);
  const document = createDocument();
  let count = 0;
  const createId = (): RecordId => `s${++count}` as RecordId;
  source.character.sections.forEach((_, section) => {
    const made = createGarment(source.character, document, section, createId);
    made.fabric.settings = skirts.setups[section]!.fabric;
    for (const record of [made.garment, made.channel, made.fabric, made.bodySet]) {
      if (record) document.records.set(record.id, record);
    }
    document.arrays.set(made.channel.id, skirts.setups[section]!.maxDistances);
    if (!made.bodySet) return;
    for (const { node: _node, ...shape } of skirts.setups[section]!.bodies as JointShape[]) {
      const id = createId();
      const bodySetId = made.bodySet.id;
      document.records.set(id, {
        type: 'body',
        id,
        bodySetId,
        name: id,
        jointName: source.character.skeleton.names[0]!,
        shape,
        margin: 0,
        group: 1,
      });
    }
  });
  return writeShipment(source, document);
}
