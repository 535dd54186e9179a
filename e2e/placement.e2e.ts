import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { placeCharacter } from '../core/rig/index.ts';
import { getGltfIo, readCharacter, writeCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getFerryPilotFile } from '../server/seed-demo.ts';
import { inspect, openPage, openStage, type Stage, waitUntilSaved } from './application.ts';

/** The pilot as an export that counts in centimetres and has Z up. */
async function createWrongUnit(): Promise<Buffer> {
  const bytes = readFileSync(await getFerryPilotFile(join(findProjectRoot(), '.cobweb', 'cache')));
  const { character } = await readCharacter([{ name: 'pilot.glb', bytes }]);
  const wrong = placeCharacter(character, { scale: 100, up: '-Z' });
  return Buffer.from(await (await getGltfIo()).writeBinary(writeCharacter(wrong)));
}

describe('a file of a wrong unit and up axis', function () {
  this.timeout(240_000);
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
    await page.getByLabel('Character files for Saltreed').setInputFiles({
      name: 'delivery.glb',
      mimeType: 'model/gltf-binary',
      buffer: await createWrongUnit(),
    });
    await page.waitForSelector('[data-preview=moving]');
  });

  after(() => stage?.close());

  const fact = (name: string): Promise<string | null> =>
    page.locator('dt', { hasText: name }).locator('+ dd').textContent();
  const undo = (): Promise<void> => page.keyboard.press('Control+z');
  /** Width, height and depth of what is drawn, m. */
  const measureDrawn = (): Promise<number[]> =>
    inspect(page, ({ workbench }) => {
      const { floats, layout } = workbench.preview.readFrame()!;
      const { skeleton } = workbench.editor.character;
      const joint = skeleton.names.indexOf('head');
      return [12, 13, 14].map((k) => floats[layout.nodes + 16 * joint + k]!);
    });

  it('is told by its height, and set right with one press', async () => {
    // It lies on its back, a hundred times as thick as it is.
    expect(await fact('Height')).match(/^(4|5)\d\.\d\d m$/);
    await page.getByLabel('Up axis of the file').selectOption('+Z');
    await page
      .locator('dt', { hasText: 'Height' })
      .locator('+ dd', { hasText: /^18\d\.\d\d m$/ })
      .waitFor();
    await page.getByRole('button', { name: 'Was it in centimetres? Make it 1.83 m tall' }).click();
    await page.locator('dt', { hasText: 'Height' }).locator('+ dd', { hasText: '1.83 m' }).waitFor();
    expect(await page.getByLabel('Scale', { exact: true }).inputValue()).equal('0.0100');
    expect(await page.getByRole('button', { name: /^Was it in/ }).count()).equal(0);
  });

  it('is seen live in its new size, from before it', async () => {
    await page.waitForTimeout(1000);
    const [x, y, z] = await measureDrawn();
    expect(y).within(1.3, 1.75);
    expect(Math.hypot(x!, z!)).below(0.5);
    expect(await page.getByLabel('Front').locator('option:checked').textContent()).equal('+Z (feet)');
  });

  it('is a step that is undone and done again, and is there after a reload', async () => {
    await undo();
    await page
      .locator('dt', { hasText: 'Height' })
      .locator('+ dd', { hasText: /^18\d\.\d\d m$/ })
      .waitFor();
    expect((await measureDrawn())[1]).above(100);
    await page.keyboard.press('Control+Shift+z');
    await page.locator('dt', { hasText: 'Height' }).locator('+ dd', { hasText: '1.83 m' }).waitFor();
    await waitUntilSaved(page);
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    expect(await fact('Height')).equal('1.83 m');
    expect((await measureDrawn())[1]).within(1.3, 1.75);
  });

  it('plays its clips, makes a garment, and says why it is fixed from then on', async () => {
    await page.keyboard.press('2');
    await page.getByRole('button', { name: 'Make Poncho a garment' }).click();
    await page.getByRole('button', { name: 'Poncho', exact: true }).waitFor();
    await page.keyboard.press('1');
    await page.getByText('Scale and up axis are set before the first garment').waitFor();
    await page.getByText('As imported: scale 0.01×, +Z up.').waitFor();
    expect(await page.getByLabel('Scale', { exact: true }).count()).equal(0);
  });

  it('faces another way when it is told to', async () => {
    await page.getByLabel('Front').selectOption('+X');
    await waitUntilSaved(page);
    expect(await page.getByLabel('Front').locator('option:checked').textContent()).equal('+X');
    expect(page.faults).deep.equal([]);
  });
});
