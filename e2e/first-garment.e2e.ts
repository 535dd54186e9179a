import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { getGltfIo, readCharacter, writeCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getFerryPilotFile } from '../server/seed-demo.ts';
import { openPage, openStage, type Stage } from './application.ts';

describe('the first garment, step by step', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage(1);
    page = await openPage(stage);
    const bytes = readFileSync(await getFerryPilotFile(join(findProjectRoot(), '.cobweb', 'cache')));
    const { character } = await readCharacter([{ name: 'Pilot.glb', bytes }]);
    const clips = character.clips.filter(({ name }) => name === 'walk');
    const file = await (await getGltfIo()).writeBinary(writeCharacter({ ...character, clips }));
    await page
      .getByLabel('Character files for Saltreed')
      .setInputFiles({ name: 'Newcomer.glb', mimeType: '', buffer: Buffer.from(file) });
    await page.waitForURL(/characters/);
    await page.waitForSelector('[data-preview=moving]');
  });

  after(() => stage?.close());

  const step = (id: string): Promise<unknown> => page.waitForSelector(`[data-tour-step=${id}]`);

  /** Middle of what the tour points at. */
  const pointed = async (): Promise<{ x: number; y: number }> => {
    const box = (await page.locator('div[aria-hidden].z-40').boundingBox())!;
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  };

  it('says what is next before anything is made, and offers to go along', async () => {
    await page.getByRole('button', { name: 'Next Make a garment' }).waitFor();
    await page.getByRole('button', { name: 'First garment, step by step' }).click();
    await step('garment');
  });

  it('points at the real controls, and goes on when each step is done', async () => {
    // First to the stage, by what is pointed at.
    const knot = await pointed();
    await page.mouse.click(knot.x, knot.y);
    expect(await page.getByRole('note').textContent()).match(/^Make a garment\. Choose the section/);
    await page.waitForTimeout(400);
    const make = (await page.getByRole('button', { name: 'Make Poncho a garment' }).boundingBox())!;
    const ring = (await page.locator('div[aria-hidden].z-40').boundingBox())!;
    expect(make.y).within(ring.y, ring.y + ring.height);
    // The card covers nothing of the panel that it speaks of.
    const card = (await page.locator('[data-tour-step]').boundingBox())!;
    expect(card.x + card.width).below(ring.x);
    await page.getByRole('button', { name: 'Make Poncho a garment' }).click();
    await step('clip');
    await page.getByRole('radio', { name: 'walk' }).click();
    await step('reach');
    await page.keyboard.press('4');
    await page.getByText('Every vertex of Poncho is held').waitFor();
    await page.getByRole('button', { name: 'Flood 20.0 cm' }).click();
    await step('bodies');
    await page.keyboard.press('5');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await step('fabric');
    await page.keyboard.press('6');
    await page.getByRole('radio', { name: /^Garment leather/ }).click();
    await step('trial');
    await page.keyboard.press('7');
    await page.getByRole('button', { name: 'Run a trial' }).click();
    await step('ship');
    await page.keyboard.press('8');
    await page.getByRole('button', { name: 'Write the file' }).click();
    await step('end');
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    expect(await page.locator('[data-tour-step]').count()).equal(0);
    expect(page.faults).deep.equal([]);
  });

  it('has steps that can be left out, and ends when it is told to', async () => {
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder(/./).last().fill('First garment');
    await page.keyboard.press('Enter');
    await step('fabric');
    await page.getByRole('button', { name: 'Skip this step' }).click();
    await step('trial');
    await page.getByRole('button', { name: 'End the tour' }).click();
    expect(await page.locator('[data-tour-step]').count()).equal(0);
  });

  it('has a page of the manual for each stage, with a search that finds it', async () => {
    const opened = page.context().waitForEvent('page');
    await page.getByRole('link', { name: 'This stage in the manual' }).click();
    const manual = await opened;
    await manual.getByRole('heading', { level: 1, name: /^Ship/ }).waitFor();
    await manual.getByRole('searchbox').fill('inward limit');
    await manual.getByRole('list', { name: 'Found in the manual' }).getByRole('link').first().click();
    await manual.waitForURL(/manual\/(words|reach)/);
    await manual
      .getByRole('link', { name: /^Reach/ })
      .first()
      .click();
    const picture = manual.getByRole('img', { name: 'Reach' });
    expect(
      await picture.evaluate((image: HTMLImageElement) => image.decode().then(() => image.naturalWidth)),
    ).equal(1280);
    await manual.close();
  });
});
