import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { createStrip } from '../formats/test-gltf.ts';
import { inspect, openDemo, openPage, openStage, type Stage, waitUntilSaved } from './application.ts';

describe('the library, and two windows', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
  });

  after(() => stage?.close());

  const upload = (name: string, buffer: Buffer) =>
    page.getByLabel('Character files for Saltreed').setInputFiles({ name, mimeType: '', buffer });

  it('says what is wrong with a damaged file and keeps the list as it was', async () => {
    await page.getByRole('article').first().waitFor();
    await upload('torn.glb', Buffer.from(createStrip().toGlb().slice(0, 700)));
    const alert = page.getByRole('alert');
    await alert.getByText('torn.glb was not taken').waitFor();
    expect(await alert.textContent()).match(/header[\s\S]*bytes are declared, 700 are there[\s\S]*again/);
    await page.reload();
    await page.getByRole('article').first().waitFor();
    expect(await page.getByRole('article').count()).equal(3);
  });

  it('renames, duplicates, deletes and takes back', async () => {
    await page.getByRole('button', { name: 'Duplicate Ferry pilot', exact: true }).click();
    await page.getByRole('article', { name: 'Ferry pilot copy' }).waitFor();
    await page.getByRole('button', { name: 'Rename Ferry pilot copy' }).click();
    await page.getByLabel('Name of the character').fill('Night pilot');
    await page.keyboard.press('Enter');
    await page.getByRole('article', { name: 'Night pilot' }).waitFor();
    await page.getByRole('button', { name: 'Delete Night pilot' }).click();
    await page.getByRole('article', { name: 'Night pilot' }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('article', { name: 'Night pilot' }).waitFor();
    await page.getByRole('button', { name: 'Delete project Saltreed' }).click();
    await page.getByRole('heading', { name: 'No project yet' }).waitFor();
    await page.getByRole('button', { name: 'Undo' }).last().click();
    await page.getByRole('article', { name: 'Night pilot' }).waitFor();
  });

  it('tells the second of two windows, and lets it keep its own', async () => {
    const other = await openPage(stage);
    await openDemo(page);
    await openDemo(other);
    const setFriction = async (target: Page, value: string): Promise<void> => {
      await target.keyboard.press('6');
      await target.getByRole('textbox', { name: 'Friction' }).fill(value);
      await target.keyboard.press('Enter');
    };
    await setFriction(page, '0.9');
    await waitUntilSaved(page);
    await setFriction(other, '0.1');
    await other.getByRole('alertdialog').getByText('Another window was here first').waitFor();
    expect(await other.getByRole('alertdialog').textContent()).contain('fabric "Oilskin"');
    await other.getByRole('button', { name: 'Keep mine', exact: true }).click();
    await waitUntilSaved(other);
    await setFriction(page, '0.5');
    await page.getByRole('button', { name: 'Take theirs' }).click();
    await waitUntilSaved(page);
    expect(await page.getByRole('textbox', { name: 'Friction' }).inputValue()).equal('0.10');
    await other.context().close();
  });

  it('saves within two seconds', async () => {
    await page.keyboard.press('6');
    await page.getByRole('textbox', { name: 'Speed' }).fill('4');
    await page.keyboard.press('Enter');
    const start = Date.now();
    await waitUntilSaved(page);
    expect(Date.now() - start).below(2000);
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    const speed = await inspect(
      page,
      ({ workbench }) =>
        [...workbench.editor.document.records.values()].find((record) => record.type === 'scene')!,
    );
    expect(speed).include({ windSpeed: 4 });
  });

  for (const colorScheme of ['light', 'dark'] as const)
    it(`has readable contrast and names for everything in the ${colorScheme === 'dark' ? 'dusk' : 'day'}, by an independent checker`, async () => {
      await page.emulateMedia({ colorScheme });
      if (colorScheme === 'dark') await openDemo(page);
      const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
      const check = async (): Promise<string[]> => {
        await page.evaluate(axe);
        return page.evaluate(async () => {
          const { axe: checker } = window as unknown as {
            axe: {
              run(options: object): Promise<{ violations: { id: string; nodes: { target: string[] }[] }[] }>;
            };
          };
          const { violations } = await checker.run({ runOnly: ['wcag2a', 'wcag2aa'] });
          return violations.flatMap(({ id, nodes }) =>
            nodes.map((node) => `${id}: ${node.target.join(' ')}`),
          );
        });
      };
      for (const key of ['1', '2', '3', '4', '5', '6', '7', '8']) {
        await page.keyboard.press(key);
        await page.waitForTimeout(200);
        expect(await check(), `stage ${key}`).deep.equal([]);
      }
      await page.goto(stage.application.address);
      await page.getByRole('article').first().waitFor();
      expect(await check(), 'library').deep.equal([]);
      for (const path of ['/manual/reach', '/targets', '/tasks']) {
        await page.goto(stage.application.address + path);
        await page.getByRole('heading', { level: 1 }).waitFor();
        expect(await check(), path).deep.equal([]);
      }
      expect(page.faults).deep.equal([]);
      await page.goto(stage.application.address);
    });
});
