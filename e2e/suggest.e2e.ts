import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemoStage, type Stage, waitUntilSaved } from './application.ts';

describe('suggestions of the server', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  const button = (name: string) => page.getByRole('button', { name, exact: true });
  const reload = async (): Promise<void> => {
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
  };

  before(async () => {
    ({ stage, page } = await openDemoStage(1));
  });

  after(async () => {
    expect(page.faults).deep.equal([]);
    await stage.close();
  });

  it('of bodies go on while the page is reloaded, and their sets are there to use', async () => {
    await page.keyboard.press('5');
    await button('Suggest bodies').click();
    const card = page.getByRole('region', { name: 'Suggest bodies' });
    await card.getByRole('textbox', { name: 'Bodies' }).fill('3');
    await page.keyboard.press('Enter');
    for (const clip of ['standing breath', 'run', 'sharp turn', 'crouch and pull'])
      await card.getByRole('button', { name: clip, exact: true }).click();
    await button('Suggest').click();
    const progress = card.getByRole('progressbar', { name: 'Suggesting' });
    await progress.waitFor();
    const table = card.getByRole('table', { name: 'Suggested sets' });
    await reload();
    await page.keyboard.press('5');
    await table.waitFor({ timeout: 270_000 });
    await progress.waitFor({ state: 'detached', timeout: 360_000 });
    const last = table.getByRole('row').last();
    expect(await last.getByRole('button').textContent()).equal('3');
    await last.click();
    await button('Use these 3 bodies').click();
    const bodies = await inspect(page, ({ workbench }) => {
      const records = [...workbench.editor.document.records.values()];
      const garment = records.find(({ id }) => id === workbench.session.state.garmentId);
      const setId = garment?.type === 'garment' ? garment.bodySetId : null;
      return records.filter((record) => record.type === 'body' && record.bodySetId === setId).length;
    });
    expect(bodies).equal(3);
    await page.keyboard.press('Control+z');
    await button('Close the suggestion').click();
  });

  it('of a map fill the map of the window that asked, though it was reloaded', async () => {
    await page.keyboard.press('4');
    await page.getByLabel('Channel').selectOption('maxDistance');
    await button('New map').click();
    await page.getByText('Everything is held').waitFor();
    await button('Suggest from the clips').click();
    await page.getByRole('progressbar', { name: 'Suggesting' }).waitFor();
    await waitUntilSaved(page);
    const awaited = () => page.evaluate(() => Object.keys(sessionStorage).join());
    const untilAwaited = async (isSo: boolean, most: number): Promise<void> => {
      for (const until = performance.now() + most; (await awaited()).includes('suggestion-of-') !== isSo; ) {
        expect(performance.now()).below(until);
        await page.waitForTimeout(50);
      }
    };
    await untilAwaited(true, 20_000);
    await reload();
    await page.keyboard.press('4');
    await untilAwaited(false, 90_000);
    await page.getByText('Everything is held').waitFor({ state: 'detached' });
    const reached = await inspect(page, ({ workbench }) =>
      Math.max(...workbench.editor.document.arrays.get(workbench.reach.painted!.map.id)!),
    );
    expect(reached).above(0.05);
    await waitUntilSaved(page);
  });

  it('end when they are told to, and are listed', async () => {
    await page.keyboard.press('5');
    await button('Suggest bodies').click();
    const card = page.getByRole('region', { name: 'Suggest bodies' });
    // What the last one found is still there.
    await card.getByRole('table', { name: 'Suggested sets' }).waitFor();
    await button('Suggest again').click();
    await card.getByText(/Fitting bodies to the skin|Simulating/).waitFor({ timeout: 180_000 });
    await card.getByRole('button', { name: 'Stop' }).click();
    await card.getByRole('progressbar', { name: 'Suggesting' }).waitFor({ state: 'detached' });
    await page.goto(new URL('/tasks', page.url()).href);
    const ended = page.getByRole('list', { name: 'Ended' }).getByRole('listitem');
    await ended.nth(2).waitFor();
    const rows = await ended.allTextContents();
    expect(rows[0]).match(/Suggestion of .*: up to 12 bodies, 5 clips.*cancelled/);
    expect(rows[1]).match(/Suggestion of Poncho: max distance from 5 clips.*done/);
    expect(rows[2]).match(/Suggestion of .*: up to 3 bodies, 1 clip.*done/);
  });
});
