import type { Page } from 'playwright-core';
import { openDemoStage, type Stage } from './application.ts';

describe('zz look', function () {
  this.timeout(500_000);
  let stage: Stage;
  let page: Page & { faults: string[] };
  before(async () => {
    ({ stage, page } = await openDemoStage(2));
  });
  after(() => stage?.close());
  it('looks', async () => {
    await page.waitForTimeout(3000);
    await page.keyboard.press('0');
    await page.waitForTimeout(1500);
    await page.screenshot({ path: '/tmp/l1.png' });
    await page.getByRole('button', { name: 'Propose levels for all garments' }).click();
    await page.waitForTimeout(800);
    await page.screenshot({ path: '/tmp/l2.png' });
    const t = Date.now();
    await page.getByRole('button', { name: 'Measure the sizes' }).click();
    await page.waitForTimeout(2500);
    await page.screenshot({ path: '/tmp/l3.png' });
    await page.waitForSelector('[data-band="3"][data-cost]', { timeout: 120_000 });
    await page.waitForSelector('button:has-text("Measure again")', { timeout: 120_000 });
    console.log('measured in', Date.now() - t);
    await page.getByRole('button', { name: /^Hold 290/ }).or(page.locator('[data-band="3"] button')).first().click();
    await page.waitForTimeout(4000);
    await page.screenshot({ path: '/tmp/l4.png' });
    await page.locator('[data-band="2"] button').click();
    await page.waitForTimeout(1500);
    await page.screenshot({ path: '/tmp/l5.png' });
    await page.locator('a:has-text("Crowd of")').click();
    await page.waitForSelector('[aria-label="Distances"]');
    await page.waitForTimeout(800);
    await page.getByRole('button', { name: 'Ferry pilot' }).first().click();
    await page.waitForTimeout(800);
    await page.screenshot({ path: '/tmp/l6.png' });
    console.log(page.faults);
  });
});
