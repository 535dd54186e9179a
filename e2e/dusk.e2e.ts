import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { PNG } from 'pngjs';
import { openDemoStage, type Stage } from './application.ts';

type Place = readonly [x: number, y: number, width: number, height: number];

/** Of a window of 1280 by 800: beside the stage thread, the ground left of the figure, and rows of the reel. */
const PLACES = { page: [900, 8, 60, 30], ground: [230, 70, 120, 300], reel: [300, 704, 800, 70] } as const;

describe('day and dusk', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
  });

  after(() => stage.close());

  /** Brightness of the median picture element of a place, and of its brightest, 0 to 1. */
  const look = async (place: Place): Promise<{ median: number; brightest: number }> => {
    const [x, y, width, height] = place;
    const { data } = PNG.sync.read(await page.screenshot({ clip: { x, y, width, height } }));
    const values = Array.from(
      { length: data.length / 4 },
      (_, i) => (0.2126 * data[4 * i]! + 0.7152 * data[4 * i + 1]! + 0.0722 * data[4 * i + 2]!) / 255,
    ).sort((p, q) => p - q);
    return { median: values[values.length >> 1]!, brightest: values.at(-1)! };
  };

  it('go by a button, for everything at once: page, ground of the viewport and charts', async () => {
    await page.waitForSelector('[data-trial=done]', { timeout: 180_000 });
    for (const place of Object.values(PLACES)) expect((await look(place)).median).above(0.7);
    await page.getByRole('button', { name: 'Show at dusk' }).click();
    await page.waitForTimeout(1500);
    for (const place of Object.values(PLACES)) expect((await look(place)).median).below(0.3);
    // Lines of the reel are drawn anew, light on dark.
    expect((await look(PLACES.reel)).brightest).above(0.5);
  });

  it('stay as they were chosen on every page, from its first picture, against the system', async () => {
    await page.emulateMedia({ colorScheme: 'light' });
    const response = await page.goto(stage.application.address);
    expect(await response!.text()).include('data-theme="dusk"');
    await page.getByRole('button', { name: 'Show by day' }).click();
    await page.emulateMedia({ colorScheme: 'dark' });
    await page.reload();
    await page.getByRole('button', { name: 'Show at dusk' }).waitFor();
    expect(page.faults).deep.equal([]);
  });
});
