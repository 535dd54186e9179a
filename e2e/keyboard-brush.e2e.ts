import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemoStage, type Stage } from './application.ts';

describe('the brush by keyboard', function () {
  this.timeout(120_000);
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
    // The figure stands still, so that the brush meets the same place.
    await page.keyboard.press('Space');
    await page.keyboard.press('4');
    await page.getByRole('tab', { name: 'Brush' }).waitFor();
  });

  after(() => stage?.close());

  const readMap = (): Promise<number[]> =>
    inspect(page, ({ workbench }) => {
      const { records, arrays } = workbench.editor.document;
      const { garmentId } = workbench.session.state;
      const map = [...records.values()].find(
        (record) =>
          record.type === 'channel' && record.garmentId === garmentId && record.kind === 'maxDistance',
      )!;
      return Array.from(arrays.get(map.id)!);
    });

  it('is moved with arrow keys, and tells the value beneath it', async () => {
    await page.keyboard.press('k');
    expect(await page.locator('.key-pointer').count()).equal(1);
    const at = () => page.locator('.key-pointer').boundingBox();
    const before = (await at())!;
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Shift+ArrowUp');
    const after = (await at())!;
    expect(before.x - after.x).closeTo(30, 0.5);
    expect(before.y - after.y).closeTo(40, 0.5);
    await page.getByText(/^vertex \d+$/).waitFor();
  });

  it('paints as long as Enter is down: one stroke, one step to take back', async () => {
    const before = await readMap();
    await page.keyboard.down('Enter');
    for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Enter');
    const painted = await readMap();
    const changed = painted.filter((value, p) => value !== before[p]).length;
    expect(changed).above(10);
    await page.keyboard.press('ArrowDown');
    expect(await readMap()).deep.equal(painted);
    await page.keyboard.press('Control+z');
    expect(await readMap()).deep.equal(before);
  });

  it('goes with Escape, and arrow keys turn the view again', async () => {
    await page.keyboard.press('Escape');
    expect(await page.locator('.key-pointer').count()).equal(0);
    const place = (): Promise<number[]> => inspect(page, ({ viewport }) => viewport.project([0.3, 1, 0]));
    const before = await place();
    await page.keyboard.press('ArrowLeft');
    expect(Math.abs((await place())[0]! - before[0]!)).above(5);
    expect(page.faults).deep.equal([]);
  });
});
