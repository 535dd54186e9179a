import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemo, openPage, openStage, type Stage } from './application.ts';

describe('a search for settings', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  const button = (name: string) => page.getByRole('button', { name, exact: true });
  const readThickness = () =>
    inspect(page, ({ workbench }) => {
      const { document } = workbench.editor;
      const garment = document.records.get(workbench.session.state.garmentId!)!;
      const fabric = garment.type === 'garment' ? document.records.get(garment.fabricId)! : null;
      return fabric?.type === 'fabric' ? fabric.settings.thickness : Number.NaN;
    });

  before(async () => {
    stage = await openStage(1);
    page = await openPage(stage);
    await openDemo(page);
    await page
      .getByRole('button', { name: /^Sash tail/ })
      .first()
      .click();
    await page.keyboard.press('6');
  });

  after(async () => {
    expect(page.faults).deep.equal([]);
    await stage.close();
  });

  it('is ordered with what may move, on chosen clips, and shows what it finds as it goes', async () => {
    await button('Search').first().click();
    const card = page.getByRole('region', { name: 'Search' });
    for (const name of ['standing breath', 'run', 'sharp turn', 'crouch and pull'])
      await card.getByRole('button', { name, exact: true }).click();
    await card.getByRole('button', { name: 'Leave Bend as it is' }).click();
    await card.getByLabel('Another number that may move').selectOption('reach');
    await card.getByRole('textbox', { name: 'Candidates' }).fill('12');
    await page.keyboard.press('Enter');
    await card.getByRole('button', { name: 'Judged by the limits of Sash tail' }).click();
    await card.getByLabel('Limit of penetration in the search').fill('2');
    await page.keyboard.press('Enter');
    await card.getByRole('button', { name: 'Judged by limits of its own' }).waitFor();
    await card.getByRole('button', { name: 'Search', exact: true }).click();
    await page.getByText(/ of 12 tried/).waitFor();
    await page.waitForSelector('[data-candidates]', { timeout: 180_000 });
    expect(Number(await page.locator('[data-candidates]').getAttribute('data-candidates'))).below(12);
    await page.waitForSelector('[data-candidates="12"]', { timeout: 480_000 });
    const settings = page.getByRole('table', { name: 'Settings of the candidate' });
    expect(await settings.getByRole('row').count()).equal(5);
    expect(await settings.textContent()).contain('The best');
    const { limits } = await inspect(page, ({ workbench }) => workbench.search.store.state.found!.request);
    expect(limits).deep.equal({ penetration: 0.002 });
  });

  it('puts a result on the running cloth for a look, and takes it off again, without changing anything', async () => {
    const before = await readThickness();
    const history = await inspect(page, ({ workbench }) => workbench.editor.undoLabel);
    await button('Look at it').click();
    await button('Take it off').waitFor();
    expect(await readThickness()).equal(before);
    await button('Take it off').click();
    await button('Look at it').waitFor();
    expect(await inspect(page, ({ workbench }) => workbench.editor.undoLabel)).equal(history);
  });

  it('takes a result over as one step, which is taken back', async () => {
    const before = await readThickness();
    const wanted = await inspect(page, ({ workbench: { search } }) => {
      const { results } = search.store.state.found!;
      const best = results.reduce((p, q) => (q.score < p.score ? q : p));
      return search.readValues(best).find(({ key }) => key === 'thickness')!.value;
    });
    await button('Take over').click();
    expect(await readThickness()).closeTo(wanted, 1e-12);
    await page.getByTitle('Undo: Take settings of the search').click();
    expect(await readThickness()).equal(before);
  });

  it('is there again when the page is opened anew', async () => {
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    await page
      .getByRole('button', { name: /^Sash tail/ })
      .first()
      .click();
    await page.keyboard.press('6');
    await button('Search').first().click();
    await page.waitForSelector('[data-candidates="12"]');
  });
});
