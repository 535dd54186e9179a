import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openPage, openStage, readPenetration, type Stage, waitUntilSaved } from './application.ts';
import { suggestBodies } from './suggest-bodies.ts';

describe('from a faulty delivery to a sim mesh', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  /** Clicks and keys that an artist needs. */
  let acts = 0;

  before(async () => {
    stage = await openStage(1);
    page = await openPage(stage);
    await page.getByRole('link', { name: 'Open Ferry pilot, as delivered' }).first().click();
    await page.waitForSelector('[data-preview=moving]');
    acts++;
  });

  after(() => stage?.close());

  const click = async (role: 'button' | 'checkbox' | 'combobox', name: string): Promise<void> => {
    await page
      .getByRole(role, { name, exact: role === 'checkbox' })
      .first()
      .click();
    acts++;
  };
  const press = async (key: string): Promise<void> => {
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press(key);
    acts++;
  };
  /** Waits until the preparation and the checks that follow it are done. */
  const settle = async (): Promise<void> => {
    await page.waitForTimeout(150);
    await page.waitForFunction(
      () => {
        const { workbench } = (
          window as unknown as { cobweb: { workbench: import('../web/state/workbench.ts').Workbench } }
        ).cobweb;
        const { garmentId } = workbench.session.state;
        const garment = garmentId ? workbench.editor.document.records.get(garmentId) : undefined;
        const isIdle = workbench.preparing.client.store.state.task === null;
        return isIdle && garment?.type === 'garment' && workbench.health.get(garment) !== null;
      },
      undefined,
      { timeout: 90_000 },
    );
  };
  const readFindings = (): Promise<{ kind: string; severity: string; fix: string | null }[]> =>
    inspect(page, ({ workbench }) => {
      const garment = workbench.editor.document.records.get(workbench.session.state.garmentId!)!;
      if (garment.type !== 'garment') return [];
      return workbench.health.get(garment)!.map(({ kind, severity, fix }) => ({ kind, severity, fix }));
    });
  /** Section, its points in the live preview, and what is drawn in its place. */
  const readGarment = () =>
    inspect(page, ({ workbench }) => {
      const garment = workbench.editor.document.records.get(workbench.session.state.garmentId!)!;
      const layout = workbench.preview.readFrame()!.layout.garments[0]!;
      if (garment.type !== 'garment') throw new Error('no garment');
      return {
        section: garment.sectionName,
        points: layout.pointCount,
        renders: garment.renders.map(({ sectionName }) => sectionName),
        steps: [...workbench.editor.document.records.values()].filter(({ type }) => type === 'step').length,
      };
    });

  it('finds every fault, each with its number, and shows where it is', async () => {
    await press('2');
    await click('button', 'Make Oilskin coat a garment');
    await settle();
    const kinds = (await readFindings()).map(({ kind }) => kind);
    expect(kinds).include.members([
      'unweldedSeam',
      'sliver',
      'duplicateFace',
      'flippedFace',
      'thinRow',
      'unevenSpacing',
      'loosePiece',
      'crossedDiagonal',
      'poseStretch',
    ]);
    const before = await inspect(page, ({ viewport }) => viewport.project([0, 1.3, 0.2]));
    await page.getByRole('button', { name: 'Show Turned triangles' }).click();
    const after = await inspect(page, ({ viewport }) => viewport.project([0, 1.3, 0.2]));
    // The eye went there.
    expect(Math.hypot(after[0] - before[0], after[1] - before[1])).above(40);
    expect(await inspect(page, ({ workbench }) => workbench.session.state.marks!.vertices.length)).within(
      15,
      36,
    );
  });

  it('mends what is plainly broken with one click, and nothing of it is left', async () => {
    await click('button', 'Repair all');
    await page.waitForFunction(() => {
      const { workbench } = (
        window as unknown as { cobweb: { workbench: import('../web/state/workbench.ts').Workbench } }
      ).cobweb;
      return (
        [...workbench.editor.document.records.values()].filter(({ type }) => type === 'step').length === 6
      );
    });
    await settle();
    const left = await readFindings();
    expect(left.filter(({ severity }) => severity === 'severe')).deep.equal([]);
    expect(left.map(({ kind }) => kind)).not.include.members(['thinRow', 'loosePiece', 'crossedDiagonal']);
    const { points, steps } = await readGarment();
    expect(points).within(1200, 1450);
    expect(steps).equal(6);
  });

  /** Sum of the coat's weights on joints whose names match. */
  const readWeight = (pattern: string): Promise<number> =>
    inspect(
      page,
      ({ workbench }, wanted) => {
        const { sections, skins, skeleton } = workbench.editor.character;
        const coat = sections.find(({ name }) => name === 'Oilskin coat')!;
        const { joints } = skins[coat.skin]!;
        const matched = Array.from(joints, (node) => new RegExp(wanted).test(skeleton.names[node]!));
        return coat.jointIndices.reduce(
          (sum, joint, i) => sum + (matched[joint] ? coat.jointWeights[i]! : 0),
          0,
        );
      },
      pattern,
    );

  it('takes the weights from the body: none of the legs, and the neck hands its own to the chest', async () => {
    expect(await readWeight('^(leg|shin)_')).above(20);
    await click('button', 'Weights from body');
    await settle();
    expect(await readWeight('^(leg|shin)_')).below(1);
    const [neck, chest] = [await readWeight('^neck$'), await readWeight('^chest$')];
    expect(neck).above(20);
    await page.getByText(/^Joints \(/).click();
    acts++;
    await click('button', 'Keep weight of neck');
    await page.getByRole('combobox', { name: 'to', exact: true }).selectOption('chest');
    acts++;
    await click('button', 'Move weight');
    await settle();
    expect(await readWeight('^neck$')).equal(0);
    expect(await readWeight('^chest$')).closeTo(neck + chest, 0.02 * (neck + chest));
  });

  it('builds an even sim mesh of the outer side, which the coat and its badge follow exactly in bind pose', async () => {
    await press('3');
    await click('button', 'Build the sim mesh');
    await settle();
    await click('checkbox', 'Oilskin coat piece');
    await page.getByText('Bind pose off by').waitFor();
    await page.waitForTimeout(500);
    const garment = await readGarment();
    expect(garment).include({ section: 'Oilskin coat sim' });
    expect(garment.renders).deep.equal(['Oilskin coat', 'Oilskin coat piece']);
    expect(garment.points).within(1200, 1800);
    const figures = page.getByLabel('Figures');
    const read = async (label: string): Promise<number> =>
      Number.parseFloat(
        (await figures
          .locator('div', { has: page.getByText(label, { exact: true }) })
          .locator('dd')
          .textContent()) ?? '',
      );
    expect(await read('Bind pose off by')).below(0.001);
    expect(await read('Edges near target')).above(95);
    expect(await read('Smallest angle (99 %)')).above(25);
    expect((await readFindings()).filter(({ severity }) => severity === 'severe')).deep.equal([]);
    // The number for the artist's log: how many clicks and keys from opening the delivery to here.
    expect(acts).below(20);
  });

  it('makes the mesh anew when a control moves, keeps what was painted where it was, and can be cancelled', async () => {
    await press('4');
    await page.getByRole('button', { name: /^Flood/ }).click();
    await page.waitForTimeout(300);
    await press('3');
    const readValues = () =>
      inspect(page, ({ workbench }) => {
        const channel = [...workbench.editor.document.records.values()].find(
          ({ type }) => type === 'channel',
        )!;
        const values = workbench.editor.document.arrays.get(channel.id)!;
        return {
          count: values.length,
          least: values.reduce((p, q) => Math.min(p, q)),
          most: values.reduce((p, q) => Math.max(p, q)),
        };
      });
    const painted = await readValues();
    expect(painted.least).above(0.1);
    await page.getByRole('textbox', { name: 'Edge length' }).fill('4.5');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => {
      const { workbench } = (
        window as unknown as { cobweb: { workbench: import('../web/state/workbench.ts').Workbench } }
      ).cobweb;
      return workbench.preview.readFrame()!.layout.garments[0]!.pointCount < 1000;
    });
    await settle();
    const coarse = await readGarment();
    expect(coarse.points).within(500, 900);
    const transferred = await readValues();
    expect(transferred.count).equal(coarse.points);
    expect(transferred.least).closeTo(painted.least, 1e-5);
    expect(transferred.most).closeTo(painted.most, 1e-5);
    await page.getByRole('textbox', { name: 'Edge length' }).fill('0.6');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Cancel' }).click({ timeout: 5000 });
    const milliseconds = await page.evaluate(async () => {
      const start = performance.now();
      while (document.querySelector('progress'))
        await new Promise((resolve) => requestAnimationFrame(resolve));
      return performance.now() - start;
    });
    expect(milliseconds).below(200);
    expect((await readGarment()).points).equal(coarse.points);
    expect(await page.getByRole('textbox', { name: 'Edge length' }).inputValue()).equal('4.5');
  });

  it('simulates both sides when it is told to, and stays as it was when that is taken back', async () => {
    const coarse = (await readGarment()).points;
    const isChosen = (side: string): Promise<boolean> => page.getByRole('radio', { name: side }).isChecked();
    const waitForPoints = async (low: number, high: number): Promise<void> => {
      await page.waitForFunction(
        ([least, most]) => {
          const { workbench } = (
            window as unknown as { cobweb: { workbench: import('../web/state/workbench.ts').Workbench } }
          ).cobweb;
          const { pointCount } = workbench.preview.readFrame()!.layout.garments[0]!;
          return pointCount >= least && pointCount <= most;
        },
        [low, high] as const,
      );
      await settle();
    };
    expect(await isChosen('Outer side')).equal(true);
    await page.getByRole('radio', { name: 'Both sides' }).click();
    await waitForPoints(1.6 * coarse, 2.6 * coarse);
    expect(await page.getByRole('alert').filter({ hasText: 'does not stand for' }).count()).equal(0);
    await press('Control+z');
    await waitForPoints(coarse, coarse);
    // It stays taken back, and the control says so.
    await page.waitForTimeout(1500);
    expect((await readGarment()).points).equal(coarse);
    expect(await isChosen('Outer side')).equal(true);
  });

  it('simulates without scatter: nothing stretches far over a walk', async () => {
    await press('4');
    await page.getByRole('button', { name: 'Hold all' }).click();
    await page.getByRole('radio', { name: 'walk' }).click();
    await press('5');
    await suggestBodies(page, 8, 'walk');
    await readPenetration(page);
    const stretch = Number(await page.locator('[data-row=stretch]').getAttribute('data-shown'));
    expect(stretch).within(0, 60);
  });

  it('takes steps back and does them again, and is the same after a reload', async () => {
    await press('2');
    await settle();
    const before = await readGarment();
    await page.getByRole('button', { name: /^Take out step 1:/ }).click();
    await settle();
    expect((await readGarment()).steps).equal(before.steps - 1);
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press('Control+z');
    await settle();
    await page.waitForTimeout(400);
    expect(await readGarment()).deep.equal(before);
    await waitUntilSaved(page);
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    expect(await readGarment()).deep.equal(before);
    expect(page.faults).deep.equal([]);
  });
});

describe('cutting a part off a garment', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
    await page.getByRole('link', { name: 'Open Ferry pilot, as delivered' }).first().click();
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('2');
    await page.getByRole('button', { name: 'Make Sash tail a garment' }).click();
    await page.waitForTimeout(400);
  });

  after(() => stage?.close());

  const readPicked = async (): Promise<number> =>
    Number(await page.locator('[data-picked]').getAttribute('data-picked'));

  it('brushes, grows and inverts, and tells what the part would cost', async () => {
    await page.getByRole('button', { name: 'Pick faces' }).click();
    expect(await readPicked()).equal(0);
    expect(await page.getByRole('button', { name: 'Cut out' }).isEnabled()).equal(false);
    await inspect(page, ({ viewport }) => viewport.frameSelected());
    await page.waitForTimeout(300);
    const place = await inspect(page, ({ workbench, viewport }) => {
      const frame = workbench.preview.readFrame()!;
      const [garment] = frame.layout.garments;
      // The vertex closest to the middle.
      const { positions, vertexCount } = garment!;
      const positionOf = (v: number): [number, number, number] => [
        frame.floats[positions + 3 * v]!,
        frame.floats[positions + 3 * v + 1]!,
        frame.floats[positions + 3 * v + 2]!,
      ];
      const ofVertices = Array.from({ length: vertexCount }, (_, v) => positionOf(v));
      const middle = [0, 1, 2].map((k) => ofVertices.reduce((sum, p) => sum + p[k]!, 0) / vertexCount);
      const from = (p: number[]): number => Math.hypot(...p.map((value, k) => value - middle[k]!));
      ofVertices.sort((p, q) => from(p) - from(q));
      return viewport.project(ofVertices[0]!);
    });
    const box = (await page.getByRole('img', { name: 'The character' }).boundingBox())!;
    await page.mouse.move(box.x + place[0], box.y + place[1]);
    await page.mouse.down();
    await page.mouse.move(box.x + place[0] + 6, box.y + place[1] - 4, { steps: 4 });
    await page.mouse.up();
    const brushed = await readPicked();
    expect(brushed).within(1, 60);
    await page.getByRole('button', { name: 'Grow' }).click();
    expect(await readPicked()).above(brushed);
    await page.getByRole('button', { name: 'Shrink' }).click();
    await page.getByRole('button', { name: 'Whole pieces' }).click();
    expect(await readPicked()).equal(52);
    await page.getByRole('button', { name: 'Invert' }).click();
    expect(await readPicked()).equal(0);
  });

  it('adds by joint, cuts the part out as a section, and takes it back', async () => {
    await page.getByRole('combobox', { name: 'Add by joint' }).selectOption({ label: 'leg_l' });
    const picked = await readPicked();
    expect(picked).within(12, 60);
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Sash end');
    await page.getByRole('button', { name: 'Cut out' }).click();
    await page.getByRole('button', { name: 'Make Sash end a garment' }).waitFor();
    const readSections = () =>
      inspect(page, ({ workbench }) =>
        workbench.editor.character.sections.map(({ name, triangles }) => [name, triangles.length / 3]),
      );
    const cut = new Map((await readSections()) as [string, number][]);
    expect(cut.get('Sash tail')! + cut.get('Sash end')!).equal(72);
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press('Control+z');
    await page.waitForTimeout(800);
    expect(new Map((await readSections()) as [string, number][]).get('Sash tail')).equal(72);
    expect(page.faults).deep.equal([]);
  });
});
