import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openPage, openStage, type Stage } from './application.ts';

/** More stops than any stage has. */
const MOST_STOPS = 200;

/** From the library to a shipped file without a pointer. */
describe('the whole job by keyboard alone', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage(1);
    page = await openPage(stage);
    await page.getByRole('article').first().waitFor();
  });

  after(() => stage?.close());

  /** Goes on with Tab until what is called so has the focus, which must be seen. */
  const tabTo = async (name: RegExp, isField = false): Promise<void> => {
    for (let stop = 0; stop < MOST_STOPS; stop++) {
      await page.keyboard.press('Tab');
      const at = await page.evaluate(() => {
        const { activeElement: one } = document;
        if (!(one instanceof HTMLElement)) return null;
        const labels = one instanceof HTMLInputElement ? one.labels : null;
        const { outlineStyle } = getComputedStyle(one.closest('.field') ?? one);
        return {
          isField: one instanceof HTMLInputElement,
          name: one.ariaLabel ?? (labels?.[0]?.textContent || one.textContent || ''),
          isMarked: outlineStyle !== 'none',
        };
      });
      if (!at || !name.test(at.name.trim()) || (isField && !at.isField)) continue;
      expect(at.isMarked, `focus on ${at.name} is seen`).equal(true);
      return;
    }
    throw new Error(`Tab leads to nothing that is called ${name}.`);
  };
  const count = (type: string): Promise<number> =>
    inspect(
      page,
      ({ workbench }, wanted) =>
        [...workbench.editor.document.records.values()].filter((record) => record.type === wanted).length,
      type,
    );

  it('opens a character and makes a garment', async () => {
    await tabTo(/^Open Ferry pilot, as delivered$/);
    await page.keyboard.press('Enter');
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('2');
    await tabTo(/^Make Sash tail a garment$/);
    await page.keyboard.press('Enter');
    await page.getByText('Everything is held').waitFor();
  });

  it('turns the view, and floods a map with a value that is typed', async () => {
    const readHeading = (): Promise<number> => inspect(page, ({ viewport }) => viewport.heading);
    const before = await readHeading();
    await page.keyboard.press('4');
    await page.keyboard.press('ArrowLeft');
    expect(Math.abs((await readHeading()) - before)).closeTo(Math.PI / 12, 1e-3);
    await tabTo(/^Value$/, true);
    await page.keyboard.type('25');
    await page.keyboard.press('Enter');
    await tabTo(/^Flood 25\.0 cm$/);
    await page.keyboard.press('Enter');
    await page.getByText('Nothing is held').waitFor();
  });

  it('adds a body, and chooses a cloth with the arrows', async () => {
    await page.keyboard.press('5');
    const bodies = await count('body');
    await tabTo(/^Add$/);
    await page.keyboard.press('Enter');
    await page.waitForTimeout(400);
    expect(await count('body')).equal(bodies + 1);
    await page.keyboard.press('Escape');
    await page.keyboard.press('6');
    await tabTo(/^(Oilskin|Custom|Wool felt|Denim)/);
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(300);
    const chosen = await page.locator('[role=radio][aria-checked=true]').allTextContents();
    expect(chosen.some((text) => /g · /.test(text))).equal(true);
  });

  it('takes a step back, and finds a command by its name', async () => {
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+Shift+z');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('go to trials');
    await page.keyboard.press('Escape');
    await page.keyboard.press('7');
    await page.getByRole('heading', { name: 'Trials' }).waitFor();
  });

  it('runs a trial, and writes the file', async () => {
    await tabTo(/^Run a trial$/);
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Stop', exact: true }).first().waitFor();
    await page.keyboard.press('8');
    await tabTo(/^Write the file$/);
    await page.keyboard.press('Enter');
    await page.getByRole('link', { name: 'Download' }).waitFor();
    await tabTo(/^Download$/);
    const download = page.waitForEvent('download');
    await page.keyboard.press('Enter');
    expect((await download).suggestedFilename()).match(/\.glb$/);
    expect(page.faults).deep.equal([]);
  });
});
