import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemoStage, type Stage } from './application.ts';

describe('commands', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
  });

  after(() => stage?.close());

  const readSession = () =>
    inspect(page, ({ workbench }) => {
      const { stage: at, showTriangles, isPlaying, clip } = workbench.session.state;
      return { at, showTriangles, isPlaying, clip };
    });
  const palette = () => page.getByRole('dialog', { name: 'All commands' });

  it('give the whole window to the viewport with one key, and take it back', async () => {
    const width = async (): Promise<number> => (await page.locator('canvas').first().boundingBox())!.width;
    const before = await width();
    await page.keyboard.press('z');
    await page.getByRole('navigation', { name: 'Stages' }).waitFor({ state: 'detached' });
    await page.waitForFunction((most) => document.querySelector('canvas')!.clientWidth > most, before + 400);
    expect(await width()).above(1270);
    expect(await page.getByRole('radio', { name: 'walk' }).isVisible()).equal(true);
    await page.getByRole('button', { name: 'Leave the full view' }).click();
    await page.getByRole('navigation', { name: 'Stages' }).waitFor();
    await page.waitForFunction((wanted) => document.querySelector('canvas')!.clientWidth === wanted, before);
  });

  it('are found by name, done with Enter, and say why they cannot be done', async () => {
    await page.keyboard.press('Control+k');
    await palette().waitFor();
    const undo = palette().getByRole('option', { name: /^Undo/ });
    expect(await undo.getAttribute('aria-disabled')).equal('true');
    expect(await undo.textContent())
      .contain('There is nothing to undo')
      .and.contain('Ctrl Z');
    await page.keyboard.type('triangles');
    await page.keyboard.press('Enter');
    await palette().waitFor({ state: 'detached' });
    expect((await readSession()).showTriangles).equal(true);
    await page.keyboard.press('Control+k');
    await page.keyboard.type('clip run');
    await page.keyboard.press('Enter');
    expect((await readSession()).clip).equal(2);
  });

  it('are listed with their keys; keys of one character can be switched off, and stay off', async () => {
    await page.keyboard.press('Shift+?');
    const sheet = page.getByRole('dialog', { name: 'Keys' });
    await sheet.waitFor();
    expect(await sheet.getByText('Play or pause').isVisible()).equal(true);
    await sheet.getByRole('checkbox').click();
    await page.keyboard.press('Escape');
    await sheet.waitFor({ state: 'detached' });
    await page.keyboard.press('b');
    await page.keyboard.press('6');
    expect(await readSession()).include({ clip: 2, at: 'reach' });
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('6');
    expect((await readSession()).at).equal('reach');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('keys');
    await page.keyboard.press('Enter');
    await sheet.getByRole('checkbox').click();
    await page.keyboard.press('Escape');
    await page.keyboard.press('6');
    expect((await readSession()).at).equal('fabric');
  });

  it('leave Space to a button that was reached by keyboard, and play otherwise', async () => {
    const { isPlaying } = await readSession();
    await page
      .getByRole('button', { name: /^Show or|Triangles/ })
      .first()
      .click();
    await page.keyboard.press(' ');
    expect(await readSession()).include({ isPlaying: !isPlaying, showTriangles: true });
    await page.getByRole('button', { name: 'Triangles', exact: true }).focus();
    await page.keyboard.press(' ');
    expect(await readSession()).include({ isPlaying: !isPlaying, showTriangles: false });
    expect(page.faults).deep.equal([]);
  });

  it('put garments in another order with the keyboard', async () => {
    const names = () =>
      inspect(page, ({ workbench }) =>
        [...workbench.editor.document.records.values()]
          .filter((record) => record.type === 'garment')
          .sort((p, q) => p.order - q.order)
          .map(({ name }) => name),
      );
    expect(await names()).deep.equal(['Sash tail', 'Poncho']);
    await page.getByRole('button', { name: 'Move Sash tail' }).focus();
    await page.keyboard.press('Space');
    await page.waitForTimeout(200);
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(300);
    await page.keyboard.press('Space');
    await page.waitForTimeout(300);
    expect(await names()).deep.equal(['Poncho', 'Sash tail']);
    await page.getByRole('button', { name: 'Sash tail', exact: true }).focus();
    await page.keyboard.press('Alt+ArrowUp');
    expect(await names()).deep.equal(['Sash tail', 'Poncho']);
  });
});
