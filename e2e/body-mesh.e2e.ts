import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemoStage, type Stage, waitUntilSaved } from './application.ts';

describe('a body mesh', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  before(async () => {
    ({ stage, page } = await openDemoStage());
    await page.keyboard.press('5');
  });
  after(async () => {
    expect(page.faults).deep.equal([]);
    await stage.close();
  });

  const countVertices = (): Promise<number> =>
    inspect(page, ({ workbench }) => {
      const { document, character } = workbench.editor;
      const mesh = [...document.records.values()].find((record) => record.type === 'bodyMesh');
      if (mesh?.type !== 'bodyMesh') return 0;
      return (character.sections[mesh.sectionIndex]?.positions.length ?? 0) / 3;
    });
  const table = () => page.getByRole('table', { name: 'Bodies' });

  it('is made over the skin without the fingers, with its figures, and cloth lies on it', async () => {
    await page.getByRole('button', { name: 'Add a body mesh' }).click();
    const card = page.getByRole('region', { name: 'New body mesh' });
    await card.getByRole('textbox', { name: 'Vertices' }).fill('400');
    await page.keyboard.press('Enter');
    await card.getByText('Leave out joints').click();
    for (const hand of ['wrist_l', 'wrist_r'])
      await card.getByRole('checkbox', { name: hand, exact: true }).check();
    await card.getByRole('button', { name: 'Make the mesh' }).click();
    const figures = page.getByLabel('Figures of the mesh');
    await figures.waitFor();
    expect(await countVertices()).within(380, 400);
    expect(await figures.textContent()).match(/Distance from the skin, mean\d\.\d mm/);
    expect(await table().locator('tbody tr').last().textContent()).contain('Body mesh');
    // The cloth lies on it while the clip plays.
    await page.waitForFunction(() => {
      const { viewport, workbench } = (
        window as never as {
          cobweb: {
            viewport: import('../web/viewport/viewport.ts').Viewport;
            workbench: import('../web/state/workbench.ts').Workbench;
          };
        }
      ).cobweb;
      return [...viewport.touchedBodies].some(
        (id) => workbench.editor.document.records.get(id)?.type === 'bodyMesh',
      );
    });
  });

  it('is made anew with other settings, and each change is one step to take back', async () => {
    await page.getByRole('textbox', { name: 'Vertices' }).fill('200');
    await page.keyboard.press('Enter');
    await expectSoon(countVertices, (count) => count <= 200 && count > 180);
    await page.keyboard.press('Control+z');
    await expectSoon(countVertices, (count) => count > 380);
    await page.keyboard.press('Control+z');
    await expectSoon(countVertices, (count) => count === 0);
    await page.keyboard.press('Control+Shift+z');
    await expectSoon(countVertices, (count) => count > 380);
  });

  it('is there again when the page is opened anew', async () => {
    await waitUntilSaved(page);
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('5');
    expect(await countVertices()).within(380, 400);
    expect(await table().locator('tbody tr').last().textContent()).contain('Body mesh');
  });

  it('becomes tapered capsules, and goes with the step that made it', async () => {
    await table().getByRole('button', { name: 'Body mesh' }).click();
    await page.getByRole('button', { name: 'Turn into capsules' }).click();
    await expectSoon(countVertices, (count) => count === 0);
    const made = await inspect(page, ({ workbench }) => {
      const { records } = workbench.editor.document;
      return {
        kinds: workbench.session.state.bodyIds.map((id) => {
          const record = records.get(id);
          return record?.type === 'body' ? record.shape.kind : 'none';
        }),
        hasStep: [...records.values()].some(
          (record) => record.type === 'step' && record.act.kind === 'makeBodyMesh',
        ),
      };
    });
    expect(made.kinds.length).above(8);
    expect(new Set(made.kinds)).deep.equal(new Set(['taperedCapsule']));
    expect(made.hasStep).equal(false);
    await page.keyboard.press('Control+z');
    await expectSoon(countVertices, (count) => count > 380);
    await table().getByRole('button', { name: 'Body mesh' }).click();
    await page.getByRole('button', { name: 'Remove body mesh' }).click();
    await expectSoon(countVertices, (count) => count === 0);
  });
});

/** Waits until what is read is as wished. */
async function expectSoon<T>(read: () => Promise<T>, isWished: (value: T) => boolean): Promise<void> {
  for (let left = 60; ; left--) {
    const value = await read();
    if (isWished(value)) return;
    if (left === 0) expect.fail(`it stays ${value}`);
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
}
