import { availableParallelism } from 'node:os';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openPage, openStage, type Stage, waitUntilSaved } from './application.ts';

describe('several cores', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
    await page.getByRole('link', { name: 'Open Lamplighter', exact: true }).click();
    await page.waitForSelector('[data-preview=moving]', { timeout: 180_000 });
  });

  after(() => stage?.close());

  const readCost = async (): Promise<number> => {
    await page.waitForSelector('[data-cost-kind=clip]', { timeout: 180_000 });
    return Number(await page.locator('[data-cost]').getAttribute('data-cost'));
  };
  const keepsOff = (name: string) =>
    page.getByRole('group', { name: 'Keeps off garments beneath' }).getByLabel(name);
  const listClear = (name: string): Promise<string[]> =>
    inspect(
      page,
      ({ workbench }, wanted) => {
        const { records } = workbench.editor.document;
        const all = [...records.values()].flatMap((record) => (record.type === 'garment' ? [record] : []));
        const own = all.find((garment) => garment.name === wanted)!;
        return all.filter(({ id }) => own.clearOf.includes(id)).map((garment) => garment.name);
      },
      name,
    );

  it('compute garments that are clear of each other in this page', async () => {
    await page.getByRole('button', { name: 'Budget' }).click();
    await page.getByText('By the clock, in this browser').click();
    const cores = page.locator('[data-cores]');
    if (availableParallelism() > 1) await page.locator('[data-cores="2"]').waitFor({ timeout: 60_000 });
    else expect(await cores.getAttribute('data-cores')).equal('1');
    await page.keyboard.press('Escape');
  });

  it('take what is told as clear at once, and it can be taken back', async () => {
    const before = await readCost();
    await page.keyboard.press('2');
    await page.getByRole('button', { name: 'Neck scarf', exact: true }).click();
    expect(await keepsOff('Work apron').isChecked()).equal(true);
    await keepsOff('Work apron').uncheck();
    expect(await listClear('Neck scarf')).deep.equal(['Work apron']);
    await page.waitForSelector('[data-cost-kind=live]');
    expect(await readCost()).below(before - 0.01);
    await page.keyboard.press('Control+z');
    expect(await keepsOff('Work apron').isChecked()).equal(true);
    // From the other side of a pair it is the same pair.
    await page.getByRole('button', { name: 'Tool roll', exact: true }).click();
    expect(await keepsOff('Neck scarf').isChecked()).equal(false);
    await keepsOff('Neck scarf').check();
    expect(await listClear('Tool roll')).deep.equal(['Work apron']);
    await page.keyboard.press('Control+z');
    expect(await keepsOff('Neck scarf').isChecked()).equal(false);
    await waitUntilSaved(page);
  });

  it('make a frame of the character shorter on a target that has them, and the figures say how', async () => {
    const onOne = await readCost();
    const address = page.url();
    await page.goto(new URL('/targets', address).href);
    const machine = page.locator('[data-target]').first();
    await machine.getByRole('textbox', { name: 'Cores' }).fill('2');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(500);
    await page.goto(address);
    await page.waitForSelector('[data-preview=moving]', { timeout: 180_000 });
    const onTwo = await readCost();
    expect(onTwo / onOne).within(0.65, 0.97);
    await page.getByRole('button', { name: 'Budget' }).click();
    await page.getByText(/of 2 cores is done/).waitFor();
    const together = await page.locator('[data-work]').getAttribute('data-work');
    expect(Number(together)).closeTo(onOne, 0.002);
    expect(page.faults).deep.equal([]);
  });
});
