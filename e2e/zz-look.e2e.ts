import { inspect, openPage, openStage } from './application.ts';

describe('zz look', function () {
  this.timeout(600_000);
  it('look', async () => {
    const stage = await openStage();
    for (const name of ['Ferry pilot', 'Lamplighter']) {
      const page = await openPage(stage);
      await page.getByRole('link', { name: `Open ${name}`, exact: true }).click();
      await page.waitForSelector('[data-preview=moving]');
      await page.keyboard.press('1');
      await page.waitForTimeout(6000);
      for (const [label, at, from] of [
        ['whole', [0, 0.95, 0], [1.0, 1.3, 2.6]],
        ['back', [0, 0.95, 0], [-1.2, 1.3, -2.4]],
        ['head', [0, 1.62, 0], [0.35, 1.7, 0.75]],
        ['feet', [0, 0.25, 0], [0.7, 0.7, 1.0]],
      ] as const) {
        if (label === 'head' || label === 'feet')
          await inspect(page, ({ workbench }, p) => (workbench as any).session.set({ focus: p }), at as any);
        if (label === 'back') { await page.mouse.move(640, 400); await page.mouse.down({ button: 'right' }); await page.mouse.move(1040, 400, { steps: 5 }); await page.mouse.up({ button: 'right' }); await page.mouse.move(640, 400); await page.mouse.down(); await page.mouse.move(1000, 400, { steps: 5 }); await page.mouse.up(); }
        void from;
        await page.waitForTimeout(1500);
        await page.screenshot({ path: `/tmp/look-${name.slice(0, 1)}-${label}.png` });
      }
      await page.close();
    }
    await stage.close();
  });
});
