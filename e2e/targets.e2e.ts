import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { strFromU8, unzipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { COST_GROUPS, listTargetGarments } from '../core/budget/index.ts';
import { inspect, openPage, openStage, type Stage } from './application.ts';
import { FACTORS, fillTimings } from './fill-timings.ts';

describe('target profiles', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  let table: string;

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
    await page.getByRole('link', { name: 'Targets' }).click();
    await page.getByRole('list', { name: 'Target profiles' }).getByRole('listitem').first().waitFor();
  });

  after(() => stage?.close());

  const bring = (name: string, text: string): Promise<void> =>
    page
      .getByLabel('Timings or a target profile')
      .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });

  it('send out garments to time, with the table to fill in', async () => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Calibration garments' }).click(),
    ]);
    expect(download.suggestedFilename()).equal('cobweb-calibration-garments.zip');
    const files = unzipSync(readFileSync(await download.path()));
    expect(Object.keys(files).filter((name) => name.endsWith('.glb')).length).equal(
      listTargetGarments().length,
    );
    table = strFromU8(files['timings.csv']!);
  });

  it('say what is wrong with a table, and where', async () => {
    await bring('timings.csv', table);
    await page.getByRole('alert').getByText('No time is filled in').waitFor();
    await bring('timings.csv', table.replace(/,,,$/m, ',fast,,'));
    await page.getByRole('alert').getByText('“fast” is no number').waitFor();
    await bring('target.json', '{"format": "something else"}');
    await page.getByRole('alert').getByText('no target profile').waitFor();
  });

  it('are fitted to times that are off by 5 %, within 10 %, and kept under a name', async () => {
    await bring('timings.csv', fillTimings(table));
    const form = page.getByRole('form', { name: 'Fitted timings' });
    await form.waitFor({ timeout: 180_000 });
    for (const { key } of COST_GROUPS) {
      const row = form.locator(`[data-group=${key}]`);
      expect(await row.getAttribute('data-assumed'), key).equal('false');
      const factor = Number((await row.locator('td').last().textContent())!.split(' ')[0]);
      expect(factor / FACTORS[key]!, key).within(0.9, 1.1);
    }
    expect(await page.getByRole('alert').count()).equal(0);
    await form.getByRole('textbox', { name: 'Name of the target' }).fill('Handheld');
    await page.keyboard.press('Enter');
    const card = page.locator('[data-target=Handheld]');
    await card.getByRole('textbox', { name: 'Frame rate' }).fill('30');
    await page.keyboard.press('Enter');
    // 12 % of 33.33 ms.
    await card.getByText('12.0 % of 33.33 ms').waitFor();
    expect(await card.getByRole('textbox', { name: 'Budget' }).inputValue()).equal('4.00');
  });

  it('go out as JSON, and come back as another profile', async () => {
    const card = page.locator('[data-target=Handheld]');
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      card.getByRole('button', { name: 'Export' }).click(),
    ]);
    const file = readFileSync(await download.path(), 'utf8');
    await bring('target.json', file.replace('"Handheld"', '"Console"'));
    await page.locator('[data-target=Console]').getByText('12.0 % of 33.33 ms').waitFor();
    await page.locator('[data-target=Console]').getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Remove it?' }).click();
    await page.locator('[data-target=Console]').waitFor({ state: 'detached' });
  });

  it('are what costs are told for, in all of the project that chose one', async () => {
    await page.goto(stage.application.address);
    await page.getByRole('link', { name: 'Open Ferry pilot', exact: true }).click();
    const readCost = async (): Promise<number> => {
      await page.waitForSelector('[data-cost-kind=clip]', { timeout: 180_000 });
      return Number(await page.locator('[data-cost]').getAttribute('data-cost'));
    };
    const here = await readCost();
    const budget = page.getByRole('button', { name: 'Budget' });
    expect(await budget.textContent()).contain('/ 2.00 ms');
    await budget.click();
    await page.getByRole('combobox', { name: 'Target' }).selectOption('Handheld');
    await page.waitForFunction(
      (before) => Number(document.querySelector<HTMLElement>('[data-cost]')!.dataset.cost) > before,
      1.5 * here,
    );
    expect(await budget.textContent()).contain('/ 4.00 ms');
    const there = await readCost();
    await page.keyboard.press('Escape');
    // The list of garments goes by it too, and another character of the project.
    await page.goto(stage.application.address);
    await page.getByRole('link', { name: 'Open Lamplighter', exact: true }).click();
    await readCost();
    const name = await inspect(page, ({ workbench }) => workbench.targets.store.state.target.name);
    expect(name).equal('Handheld');
    expect(there / here).within(1.5, 5);
    expect(page.faults).deep.equal([]);
  });
});
