import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { openDemoStage, type Stage } from './application.ts';

interface CompareWindow {
  comparison: import('../web/state/comparison.ts').Comparison;
}

describe('the compare page', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
    await page.keyboard.press('6');
    await page.getByRole('link', { name: 'Compare' }).click();
    await page.waitForURL(/compare$/);
    await page.waitForSelector('[data-preview=moving]');
  });

  after(() => stage?.close());

  const waitForNumbers = async (): Promise<Record<string, number>> => {
    await page.waitForTimeout(900);
    await page.waitForSelector('[data-trial=done]', { timeout: 360_000 });
    const read = async (label: string): Promise<number> =>
      Number(await page.locator(`[data-difference=${label}]`).getAttribute('data-shown'));
    return {
      penetration: await read('penetration'),
      stretch: await read('stretch'),
      cost: await read('cost'),
    };
  };

  /** Mean way between the two sides' render vertices of the outermost garment, m. */
  const measureApart = (): Promise<number> =>
    page.evaluate(() => {
      const { comparison } = window as unknown as CompareWindow;
      const [a, b] = comparison.sides.map(({ preview }) => {
        const frame = preview.readFrame()!;
        const garment = frame.layout.garments[frame.layout.garments.length - 1]!;
        return frame.floats.slice(garment.positions, garment.positions + 3 * garment.vertexCount);
      }) as [Float32Array, Float32Array];
      let sum = 0;
      for (let i = 0; i < a.length; i++) sum += Math.abs(a[i]! - b[i]!);
      return sum / a.length;
    });

  it('shows skinned against simulated in one pose, with the difference in numbers', async () => {
    const difference = await waitForNumbers();
    // The demo's garments are simulated so that they leave the body alone.
    expect(difference.penetration).below(-5);
    expect(difference.cost).above(0.3);
    expect(await measureApart()).above(0.003);
  });

  it('compares any two fabrics, changed on the spot', async () => {
    await page.getByLabel('What A shows').selectOption('as authored');
    await page.waitForTimeout(600);
    // Nothing differs, except what has not yet settled after being skinned.
    await page.evaluate(() => {
      const { comparison } = window as unknown as CompareWindow;
      comparison.playback.preview.send({ kind: 'reset' });
    });
    await page.waitForTimeout(300);
    expect(await measureApart()).equal(0);
    await page.getByLabel('What B shows').selectOption('Chiffon');
    await page.waitForTimeout(1200);
    expect(await measureApart()).above(0.002);
    await page.getByRole('button', { name: 'Settings of B' }).click();
    await page.getByRole('textbox', { name: 'Substeps' }).fill('60');
    await page.keyboard.press('Enter');
    expect(await page.getByLabel('What B shows').inputValue()).equal('own');
    const { cost } = await waitForNumbers();
    expect(cost).below(0);
    await page.getByRole('button', { name: 'Settings of B' }).click();
    await page.getByRole('button', { name: 'Copy the fabric of B' }).click();
  });

  it('looks at both with one eye, on one clock', async () => {
    const box = (await page.getByRole('img', { name: 'Side A' }).boundingBox())!;
    const eyes = (): Promise<number[]> =>
      page.evaluate(() => {
        const shown = (window as unknown as { viewports: { heading: number }[] }).viewports;
        return shown.map(({ heading }) => heading);
      });
    const before = await eyes();
    await page.mouse.move(box.x + 400, box.y + 300);
    await page.mouse.down();
    await page.mouse.move(box.x + 520, box.y + 300, { steps: 5 });
    await page.mouse.up();
    const after = await eyes();
    expect(after[0]).closeTo(after[1]!, 1e-6);
    expect(Math.abs(after[0]! - before[0]!)).above(0.1);
    await page.keyboard.press('p');
    await page.waitForTimeout(300);
    const times = await page.evaluate(() => {
      const { comparison } = window as unknown as CompareWindow;
      return comparison.sides.map(({ preview }) => preview.readFrame()!.time);
    });
    expect(times[0]).equal(times[1]);
    expect(page.faults).deep.equal([]);
  });
});
