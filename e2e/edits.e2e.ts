import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { getGltfIo, readCharacter, writeCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getFerryPilotFile, getLamplighterFile } from '../server/seed-demo.ts';
import { inspect, openPage, openStage, type Stage, waitUntilSaved } from './application.ts';

const CACHE = join(findProjectRoot(), '.cobweb', 'cache');

describe('garments worked on by hand', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  let canvas: { x: number; y: number; width: number; height: number };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
    await page.getByRole('link', { name: 'Open Lamplighter', exact: true }).first().click();
    await page.waitForSelector('[data-preview=moving]');
    canvas = (await page.getByRole('img', { name: 'The character' }).boundingBox())!;
  });

  after(() => stage?.close());

  const press = async (key: string): Promise<void> => {
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press(key);
  };
  /** Presses a button, or chooses one of several. */
  const click = (name: string, exact = true) =>
    page.getByRole('button', { name, exact }).or(page.getByRole('radio', { name, exact })).first().click();
  const choose = async (garment: string): Promise<void> => {
    await page
      .getByRole('button', { name: new RegExp(`^${garment}`) })
      .first()
      .click();
  };
  /** Waits until the preparation is done and on the page. */
  const settle = async (steps: number): Promise<void> => {
    await page.waitForFunction(
      (wanted) => {
        const { workbench } = (
          window as unknown as { cobweb: { workbench: import('../web/state/workbench.ts').Workbench } }
        ).cobweb;
        const records = [...workbench.editor.document.records.values()];
        const isIdle = workbench.preparing.client.store.state.task === null;
        return isIdle && records.filter(({ type }) => type === 'step').length === wanted;
      },
      steps,
      { timeout: 90_000 },
    );
    await page.waitForTimeout(300);
  };
  /** Draws from one place of the canvas (shares of its size) by so many pixels. */
  const draw = async (at: [number, number], by: [number, number]): Promise<void> => {
    const [x, y] = [canvas.x + at[0] * canvas.width, canvas.y + at[1] * canvas.height];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + by[0], y + by[1], { steps: 8 });
    await page.mouse.up();
  };
  /** Weight of a joint on a section, summed over its vertices. */
  const readWeight = (section: string, joint: string): Promise<number> =>
    inspect(
      page,
      ({ workbench }, [name, wanted]) => {
        const { sections, skins, skeleton } = workbench.editor.character;
        const found = sections.find((one) => one.name === name)!;
        const at = Array.from(skins[found.skin]!.joints).findIndex((node) => skeleton.names[node] === wanted);
        return found.jointIndices.reduce((sum, j, i) => sum + (j === at ? found.jointWeights[i]! : 0), 0);
      },
      [section, joint] as const,
    );
  const readPositions = (section: string): Promise<number[]> =>
    inspect(
      page,
      ({ workbench }, name) => [
        ...workbench.editor.character.sections.find((one) => one.name === name)!.positions,
      ],
      section,
    );
  const readTurned = (joint: string): Promise<number[]> =>
    inspect(
      page,
      ({ workbench }, name) => {
        const { floats, layout } = workbench.preview.readFrame()!;
        const node = workbench.editor.character.skeleton.names.indexOf(name);
        return [...floats.slice(layout.nodes + 16 * node, layout.nodes + 16 * node + 11)];
      },
      joint,
    );

  it('paints the weight of a joint where the brush goes, as one step, and takes it back', async () => {
    await press('2');
    await choose('Under-smock');
    await click('Paint weights');
    await press('b');
    await page.waitForTimeout(400);
    await page.getByRole('list', { name: 'Joints', exact: true }).getByText('ribs', { exact: true }).click();
    const before = await readWeight('Under-smock', 'ribs');
    await draw([0.5, 0.52], [0, 30]);
    await settle(1);
    const painted = await readWeight('Under-smock', 'ribs');
    expect(painted).above(before + 3);
    // More of the same is the same step.
    await draw([0.46, 0.52], [0, 30]);
    await settle(1);
    expect(await readWeight('Under-smock', 'ribs')).above(painted);
    await press('Control+z');
    await press('Control+z');
    await settle(0);
    expect(await readWeight('Under-smock', 'ribs')).closeTo(before, 1e-3);
  });

  it('misses no simulated frame while weights are painted', async () => {
    await page.getByRole('radio', { name: 'walk' }).click();
    const read = () =>
      inspect(page, ({ workbench }) => ({
        count: workbench.preview.readFrame()!.count,
        at: performance.now(),
        buffer: workbench.preview.readFrame()!.floats.buffer.byteLength,
      }));
    /** Simulated frames a second while something is done. */
    const measureRate = async (act: () => Promise<void>): Promise<number> => {
      const before = await read();
      await act();
      await page.waitForTimeout(500);
      const after = await read();
      expect(after.buffer).equal(before.buffer);
      return (1000 * (after.count - before.count)) / (after.at - before.at);
    };
    const [painting, looking]: [number[], number[]] = [[], []];
    // What else the machine does only ever slows down, and slows both: of a few strokes each way the best counts.
    while (painting.length < 8 && !(Math.max(...painting) > 0.97 * Math.max(...looking))) {
      // The trial of the last stroke shares the processors; let it end.
      await page.waitForTimeout(5000);
      looking.push(
        await measureRate(async () => {
          await page.mouse.move(canvas.x + 0.5 * canvas.width, canvas.y + 0.52 * canvas.height);
          await page.mouse.move(canvas.x + 0.5 * canvas.width, canvas.y + 0.52 * canvas.height + 30, {
            steps: 8,
          });
        }),
      );
      painting.push(
        await measureRate(async () => {
          await draw([0.46 + 0.02 * (painting.length % 4), 0.52], [0, 30]);
          await settle(1);
        }),
      );
    }
    const told = `${painting.map((rate) => rate.toFixed(1)).join(', ')} against ${looking.map((rate) => rate.toFixed(1)).join(', ')}`;
    expect(Math.max(...painting), told).above(0.9 * Math.max(...looking));
    for (const _ of painting) await press('Control+z');
    await settle(0);
    await page.getByRole('radio', { name: 'bind pose' }).click();
  });

  it('takes exact numbers for what is selected, and leaves a locked joint alone', async () => {
    await click('Select');
    const [x, y] = [canvas.x + 0.5 * canvas.width, canvas.y + 0.5 * canvas.height];
    await page.mouse.click(x, y);
    const table = page.getByRole('table', { name: 'Weights of the selection' });
    await table.waitFor();
    const read = (joint: string): Promise<string> => table.getByLabel(`Weight of ${joint}`).inputValue();
    const joints = (await table.locator('tbody tr td:first-child').allTextContents()).filter(
      (name) => name !== 'ribs',
    );
    const [kept] = joints;
    const share = Number(await read(kept!));
    await page.getByRole('button', { name: `Keep weight of ${kept}` }).click();
    await table.getByLabel('Weight of ribs').fill('12.5');
    await page.keyboard.press('Enter');
    await settle(1);
    expect(await read('ribs')).equal(Math.min(12.5, 100 - share).toFixed(2));
    expect(Number(await read(kept!))).closeTo(share, 0.02);
  });

  it('turns a joint to try a pose, and stands in bind pose again by one key', async () => {
    // The pose of before comes to rest first.
    await page.waitForTimeout(400);
    const still = await readTurned('ribs');
    await page.getByLabel('About y', { exact: true }).fill('40');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(400);
    const turned = await readTurned('ribs');
    expect(turned[0]).closeTo(Math.cos((40 * Math.PI) / 180) * still[0]!, 0.02);
    await press('b');
    await page.waitForTimeout(400);
    const back = await readTurned('ribs');
    back.forEach((value, i) => {
      expect(value).closeTo(still[i]!, 1e-5);
    });
    await click('Done');
  });

  it('paints weights while everything stands still: the cloth is not made anew, and is there afterwards', async () => {
    await choose('Under-smock');
    await press('p');
    const place: [number, number] = [0.5, 0.52];
    // Where nothing is worn over it.
    const [x, y] = [canvas.x + 0.46 * canvas.width, canvas.y + 0.42 * canvas.height];
    await inspect(page, ({ workbench }) => {
      Object.assign(window, { layoutBefore: workbench.preview.readFrame()!.layout });
    });
    const before = await readWeight('Under-smock', 'chest');
    await click('Paint weights');
    await page.getByRole('list', { name: 'Joints', exact: true }).getByText('chest', { exact: true }).click();
    await draw(place, [0, 20]);
    await settle(1);
    expect(await readWeight('Under-smock', 'chest')).above(before + 1);
    await click('Done');
    await page.waitForTimeout(500);
    const seen = await inspect(
      page,
      ({ workbench, viewport }, [px, py]) => {
        const id = viewport.findGarmentAt(px, py);
        const record = id ? workbench.editor.document.records.get(id) : undefined;
        const { layoutBefore } = window as unknown as { layoutBefore: unknown };
        return {
          garment: record?.type === 'garment' ? record.name : null,
          isSameRun: workbench.preview.readFrame()!.layout === layoutBefore,
        };
      },
      [x, y] as const,
    );
    expect(seen).deep.equal({ garment: 'Under-smock', isSameRun: true });
    await press('Control+z');
    await settle(1);
    expect(await readWeight('Under-smock', 'chest')).closeTo(before, 1e-3);
    await press('p');
  });

  it('pulls and smooths the garment in bind pose, drapes it, and resets its shape exactly', async () => {
    await choose('Work apron');
    const before = await readPositions('Work apron');
    await click('Shape by hand');
    await page.waitForTimeout(400);
    await draw([0.47, 0.57], [-50, 20]);
    await settle(2);
    const pulled = await readPositions('Work apron');
    const displacements = pulled.map((value, i) => Math.abs(value - before[i]!));
    expect(Math.max(...displacements)).within(0.05, 0.3);
    expect(displacements.filter((displacement) => displacement === 0).length).above(
      0.2 * displacements.length,
    );
    await click('Smooth');
    await draw([0.45, 0.55], [12, 4]);
    await settle(2);
    await click('Done');
    await click('Drape');
    await page.waitForTimeout(1500);
    const readDrawn = (): Promise<number[]> =>
      inspect(page, ({ workbench }) => {
        const { floats, layout } = workbench.preview.readFrame()!;
        const { positions, vertexCount } = layout.garments[1]!;
        return [...floats.slice(positions, positions + 3 * vertexCount)];
      });
    // Pulled with the mouse while it falls, and let go.
    const fallen = await readDrawn();
    await page.mouse.move(canvas.x + 0.47 * canvas.width, canvas.y + 0.54 * canvas.height);
    await page.mouse.down();
    await page.mouse.move(canvas.x + 0.36 * canvas.width, canvas.y + 0.54 * canvas.height, { steps: 8 });
    // How far it comes in a moment depends on what the machine simulates in it.
    let farthest = 0;
    for (const until = Date.now() + 10_000; farthest <= 0.05 && Date.now() < until; ) {
      await page.waitForTimeout(250);
      const drawn = await readDrawn();
      farthest = Math.max(...drawn.map((value, i) => Math.abs(value - fallen[i]!)));
    }
    expect(farthest).above(0.05);
    await page.mouse.up();
    await click('Keep this shape');
    await page.getByText('has the shape that it fell into').waitFor({ timeout: 60_000 });
    await settle(3);
    const draped = await readPositions('Work apron');
    expect(Math.max(...draped.map((value, i) => Math.abs(value - pulled[i]!)))).above(0.003);
    await click('Reset shape');
    await settle(1);
    expect(await readPositions('Work apron')).deep.equal(before);
  });

  it('gives the scarf the shapes of the body: one slider moves both, and the fit is told for each', async () => {
    await choose('Neck scarf');
    await page.getByText(/does not follow broad, slight, stooped/).waitFor();
    await click('Take body shapes');
    await settle(2);
    await page.getByLabel('stooped', { exact: true }).fill('100');
    await page.keyboard.press('Enter');
    const fits = page.getByRole('table', { name: 'Fit on the body shapes' });
    await fits.waitFor();
    expect(await fits.locator('tr').count()).equal(4);
    await page.waitForTimeout(800);
    const readFront = (): Promise<number> =>
      inspect(page, ({ workbench }) => {
        const { floats, layout } = workbench.preview.readFrame()!;
        const garment = layout.garments.find(
          ({ sectionIndex }) => workbench.editor.character.sections[sectionIndex]!.name === 'Neck scarf',
        )!;
        let sum = 0;
        for (let p = 0; p < garment.pointCount; p++) sum += floats[garment.targets + 4 * p + 2]!;
        return sum / garment.pointCount;
      });
    const stooped = await readFront();
    await press('Control+z');
    await page.waitForTimeout(800);
    expect(stooped - (await readFront())).above(0.04);
  });

  it('says in red what too coarse a sim mesh has lost, until it is taken back', async () => {
    await press('2');
    await click('Make Hood a garment');
    await press('3');
    await page.getByRole('textbox', { name: 'Edge length' }).fill('20');
    await page.keyboard.press('Enter');
    await click('Build the sim mesh');
    const told = page.getByRole('alert').filter({ hasText: 'does not stand for what is drawn' });
    await told.waitFor();
    expect(await told.textContent()).match(/It has \d+ open borders; the source has \d+/);
    await press('Control+z');
    await told.waitFor({ state: 'detached' });
    // The control keeps nothing of it.
    expect(await page.getByRole('textbox', { name: 'Edge length' }).inputValue()).not.equal('20.0');
    await press('Control+z');
    await press('2');
    await choose('Neck scarf');
  });

  it('makes an inner layer that follows the outer one, and a card that is held where the piece was', async () => {
    await page.getByText('Add inner layer').click();
    await click('Make');
    await settle(3);
    await page.getByText(/^Inner layer \([\d,]+ vertices\) follows the outer layer$/).waitFor();
    expect(await page.getByRole('checkbox', { name: /^Inner layer/ }).isChecked()).equal(true);
    await choose('Tool roll');
    await press('3');
    await page.getByText('A card instead').click();
    await click('Make the card');
    await settle(4);
    const held = await inspect(page, ({ workbench }) => {
      const { document } = workbench.editor;
      const channel = [...document.records.values()].find(
        (record) => record.type === 'channel' && record.garmentId === workbench.session.state.garmentId,
      )!;
      return [...document.arrays.get(channel.id)!].map((value) => value === 0);
    });
    expect(held.length).equal(6);
    expect(held.filter((one) => one).length).equal(2);
  });

  it('outlines faces of the body, that is no garment, on the side that is seen', async () => {
    await press('2');
    await page.getByRole('button', { name: 'Pick a part of Body' }).click();
    await click('Lasso');
    const readPicked = async (): Promise<number> =>
      Number(await page.locator('[data-picked]').getAttribute('data-picked'));
    const around = async (): Promise<void> => {
      const at = (x: number, y: number): [number, number] => [
        canvas.x + x * canvas.width,
        canvas.y + y * canvas.height,
      ];
      await page.mouse.move(...at(0.3, 0.75));
      await page.mouse.down();
      for (const [x, y] of [
        [0.3, 0.97],
        [0.7, 0.97],
        [0.7, 0.75],
      ] as const)
        await page.mouse.move(...at(x, y), { steps: 4 });
      await page.mouse.up();
    };
    await around();
    const seen = await readPicked();
    expect(seen).within(100, 1500);
    await page.getByRole('checkbox', { name: 'What lies behind, too' }).check();
    await around();
    expect(await readPicked()).above(1.3 * seen);
    await click('Leave');
    await waitUntilSaved(page);
    expect(page.faults).deep.equal([]);
  });

  it('reviews a new version, matches a renamed section, takes it, and adds clips of another file', async () => {
    const name = 'Lamplighter.glb';
    const { character } = await readCharacter([
      { name, bytes: readFileSync(await getLamplighterFile(CACHE)) },
    ]);
    for (const section of character.sections) {
      if (section.name !== 'Neck scarf') continue;
      section.name = section.meshName = 'Scarf low';
      character.skeleton.names[section.node] = 'Scarf low';
    }
    character.clips = character.clips.filter((clip) => clip.name === 'walk');
    const bytes = await (await getGltfIo()).writeBinary(writeCharacter(character));
    const readGarments = (): Promise<{ name: string; section: string; values: number[] }[]> =>
      inspect(page, ({ workbench }) => {
        const records = [...workbench.editor.document.records.values()];
        return records.flatMap((record) => {
          if (record.type !== 'garment') return [];
          const channel = records.find((one) => one.type === 'channel' && one.garmentId === record.id)!;
          const values = [...workbench.editor.document.arrays.get(channel.id)!];
          return [{ name: record.name, section: record.sectionName, values }];
        });
      });
    const before = await readGarments();
    await press('1');
    await page
      .getByLabel('Files of the new version')
      .setInputFiles({ name: 'Lamplighter v2.glb', mimeType: '', buffer: Buffer.from(bytes) });
    const dialog = page.getByRole('dialog');
    await dialog.getByText('Garment Neck scarf has no section').waitFor({ timeout: 90_000 });
    await dialog.getByLabel('New section for Neck scarf').selectOption('Scarf low');
    await dialog.getByText('as Scarf low').waitFor({ timeout: 90_000 });
    expect(await dialog.getByText(/in the list/).allTextContents()).deep.equal([]);
    const reloaded = page.waitForEvent('load', { timeout: 120_000 });
    await dialog.getByRole('button', { name: 'Use new version' }).click();
    await reloaded;
    await page.waitForSelector('[data-preview=moving]');
    const after = await readGarments();
    expect(after.map((garment) => garment.name).sort()).deep.equal(
      before.map((garment) => garment.name).sort(),
    );
    for (const garment of after) {
      const was = before.find((one) => one.name === garment.name)!;
      expect(garment.section).equal(garment.name === 'Neck scarf' ? 'Scarf low' : was.section);
      expect(garment.values.length).equal(was.values.length);
      garment.values.forEach((value, i) => {
        expect(value).closeTo(was.values[i]!, 1e-4);
      });
    }

    await press('1');
    const again = page.waitForEvent('load', { timeout: 120_000 });
    await page.getByLabel('Files with clips').setInputFiles({
      name: 'pilot.glb',
      mimeType: '',
      buffer: readFileSync(await getFerryPilotFile(CACHE)),
    });
    await again;
    await page.waitForSelector('[data-preview=moving]');
    await page.getByRole('radio', { name: 'run' }).click();
    await page.waitForFunction(() => {
      const { workbench } = (
        window as unknown as { cobweb: { workbench: import('../web/state/workbench.ts').Workbench } }
      ).cobweb;
      const frame = workbench.preview.readFrame()!;
      return workbench.editor.character.clips[frame.clip]?.name === 'run' && frame.time > 0.1;
    });
    expect(page.faults).deep.equal([]);
  });
});
