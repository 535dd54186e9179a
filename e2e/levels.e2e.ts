import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemoStage, type Stage, waitUntilSaved } from './application.ts';

describe('levels of detail', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage(2));
  });

  after(() => stage?.close());

  /** Simulated vertices of the poncho, as the page draws it. */
  const countPoints = () =>
    inspect(page, ({ workbench }) => {
      const garments = workbench.preview.store.state.layout!.garments;
      return garments[garments.length - 1]!.pointCount;
    });

  it('are proposed for all garments at once, and taken back as one step', async () => {
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('0');
    await page.getByRole('button', { name: 'Propose levels for all garments' }).click();
    expect(await page.locator('[data-band]').count()).above(3);
    await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'Propose levels for all garments' }).click();
    expect(await page.locator('[data-level]').count()).equal(4);
    await waitUntilSaved(page);
  });

  it('are held in the viewport: fewer vertices are simulated, the same are drawn, and the cloth goes on', async () => {
    const whole = await countPoints();
    await page.locator('[data-band="3"]').getByRole('button', { name: 'Hold' }).click();
    await page.waitForSelector('[data-held="3"]');
    await page.waitForFunction(
      ([before]) => {
        const { workbench } = (window as unknown as { cobweb: { workbench: Workbenchlike } }).cobweb;
        const garments = workbench.preview.store.state.layout!.garments;
        return garments[garments.length - 1]!.pointCount < before! / 2;
      },
      [whole],
      { timeout: 90_000 },
    );
    const read = () => inspect(page, ({ workbench }) => workbench.preview.readFrame()!.count);
    const first = await read();
    await page.waitForTimeout(500);
    expect(await read()).above(first + 5);
    // Another size goes over while it moves.
    await page.locator('[data-band="1"]').getByRole('button', { name: 'Hold' }).click();
    await page.waitForSelector('[data-held="1"]');
    await page.waitForTimeout(1000);
    expect(await countPoints()).within(whole / 3, whole);
  });

  it('follow the view when they are told to', async () => {
    await page.getByRole('button', { name: 'By the view' }).click();
    await page.getByText('px high on a picture of 1,080').waitFor();
    const box = (await page.getByRole('img', { name: 'The character' }).boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    for (let i = 0; i < 12; i++) await page.mouse.wheel(0, 400);
    await page.waitForSelector('[data-held="3"]', { timeout: 60_000 });
    await page.getByRole('button', { name: 'By the view' }).click();
    await page.waitForSelector('[data-held]', { state: 'detached' });
  });

  it('are measured size by size: the cost falls, and going over shows no step', async () => {
    const chips = page.getByRole('group', { name: 'Clips to measure levels on' });
    await chips.getByRole('button', { name: 'walk' }).click();
    await chips.getByRole('button', { name: 'run', exact: true }).click();
    await page.getByRole('button', { name: 'Measure the sizes' }).click();
    await page.getByRole('button', { name: 'Measure again' }).waitFor({ timeout: 480_000 });
    const rows = page.locator('[data-band]');
    const costs: number[] = [];
    for (const row of await rows.all()) costs.push(Number(await row.getAttribute('data-cost')));
    costs.slice(1).forEach((cost, b) => {
      expect(cost).within(0, costs[b]!);
    });
    expect(costs.at(-1)).below(0.1);
    expect(await page.getByText('✓ smooth').count()).equal(costs.length - 1);
    // Another mesh is not what was measured.
    await page.locator('[data-level="0"]').getByLabel('Edges', { exact: true }).fill('6');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[data-band="1"]:not([data-cost])');
    expect(await page.locator('[data-band="2"]').getAttribute('data-cost')).equal(String(costs[2]));
    await page.keyboard.press('Control+z');
    await page.waitForSelector('[data-band="1"][data-cost]');
    await waitUntilSaved(page);
  });

  it('make a crowd: how many fit at which distance, what is in view, and what that costs', async () => {
    await page.getByRole('link', { name: /^Crowd of/ }).click();
    const table = page.getByRole('table', { name: 'Distances of Ferry pilot' });
    await table.waitFor();
    const fits = await table
      .locator('[data-fits]')
      .evaluateAll((cells) => cells.map((cell) => Number((cell as HTMLElement).dataset.fits)));
    expect(fits).deep.equal([...fits].sort((p, q) => p - q));
    expect(fits.at(-1)).above(20);
    await page.getByRole('button', { name: 'Ferry pilot' }).click();
    const sum = page.locator('[data-worst]');
    const read = async () => Number(await sum.getAttribute('data-cost'));
    const four = await read();
    expect(Number(await sum.getAttribute('data-worst'))).above(four);
    await page.getByLabel('Number of Ferry pilot', { exact: true }).fill('8');
    await page.keyboard.press('Enter');
    await page.getByText('8 characters').waitFor();
    expect(await read()).within(1.7 * four, 2.3 * four);
    // Far away they cost next to nothing; and it is there again after a reload.
    await page.getByLabel('Farthest Ferry pilot', { exact: true }).fill('400');
    await page.keyboard.press('Enter');
    await page.getByLabel('Nearest Ferry pilot', { exact: true }).fill('300');
    await page.keyboard.press('Enter');
    await page.getByText('✓ fits').first().waitFor();
    await page.waitForTimeout(1000);
    await page.reload();
    await page.getByText('8 characters').waitFor();
    expect(await read()).below(four);
    expect(page.faults).deep.equal([]);
  });
});

/** What is asked of the page within a wait. */
interface Workbenchlike {
  preview: { store: { state: { layout: { garments: { pointCount: number }[] } | null } } };
}
