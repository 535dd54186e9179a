import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemo, openDemoStage, openPage, type Stage, waitUntilSaved } from './application.ts';

describe('versions to return to', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
  });

  after(() => stage?.close());

  const setFabric = async (target: Page, name: string, value: string): Promise<void> => {
    await target.keyboard.press('6');
    const field = target.getByRole('textbox', { name });
    await field.fill(value);
    await field.press('Enter');
  };
  const readFabric = (target: Page, name: string) => target.getByRole('textbox', { name }).inputValue();
  const dialog = () => page.getByRole('dialog', { name: 'Versions' });
  const openHistory = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Versions', exact: true }).click();
    await dialog().getByText('Now', { exact: true }).waitFor();
  };

  it('are kept by name, and tell what changed since in words', async () => {
    await setFabric(page, 'Friction', '0.31');
    await openHistory();
    await dialog().getByLabel('Name of the version').fill('Slippery');
    await page.keyboard.press('Enter');
    await dialog().getByText('Slippery').waitFor();
    await page.keyboard.press('Escape');
    await setFabric(page, 'Friction', '0.77');
    await waitUntilSaved(page);
    await openHistory();
    const now = dialog().getByRole('listitem').first();
    await now.getByText('Fabric "Oilskin": friction').waitFor();
    expect(await now.textContent()).contain('in this window');
  });

  it('are looked at without being touched', async () => {
    await dialog().getByRole('link', { name: 'Look at Slippery' }).click();
    await page.getByText('You are looking at').waitFor();
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('6');
    expect(await readFabric(page, 'Friction')).equal('0.31');
    await setFabric(page, 'Friction', '0.05');
    await page.waitForTimeout(1500);
    await page.getByRole('link', { name: 'Back to now' }).click();
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('6');
    expect(await readFabric(page, 'Friction')).equal('0.77');
  });

  it('are returned to, as a step that can be undone, with painted values and all', async () => {
    const sumOfMaps = () =>
      inspect(page, ({ workbench }) =>
        [...workbench.editor.document.arrays.values()].reduce(
          (sum, values) => sum + values.reduce((total, value) => total + value, 0),
          0,
        ),
      );
    const before = await sumOfMaps();
    await page.keyboard.press('4');
    await page.getByRole('button', { name: /^Flood/ }).click();
    await waitUntilSaved(page);
    const flooded = await sumOfMaps();
    expect(flooded).not.closeTo(before, 1);
    await openHistory();
    await dialog().getByRole('button', { name: 'Return to Slippery' }).click();
    await page.getByText('Everything is as in Slippery').waitFor();
    expect(await sumOfMaps()).closeTo(before, 1e-3);
    await page.keyboard.press('6');
    expect(await readFabric(page, 'Friction')).equal('0.31');
    await waitUntilSaved(page);
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    expect(await sumOfMaps()).closeTo(before, 1e-3);
    // What was on the screen before is kept too.
    await openHistory();
    await dialog()
      .getByRole('button', { name: /^Return to \d\d:\d\d/ })
      .first()
      .click();
    await dialog().waitFor({ state: 'detached' });
    expect(await sumOfMaps()).closeTo(flooded, 1e-3);
    await page.keyboard.press('Control+z');
    expect(await sumOfMaps()).closeTo(before, 1e-3);
    await waitUntilSaved(page);
  });

  it('of two windows that change different numbers are one: both are kept, and nobody is asked', async () => {
    const other = await openPage(stage);
    await openDemo(other);
    await setFabric(page, 'Friction', '0.44');
    await waitUntilSaved(page);
    await setFabric(other, 'Density', '333');
    await waitUntilSaved(other);
    expect(await other.getByRole('alertdialog').count()).equal(0);
    expect(await readFabric(other, 'Friction')).equal('0.44');
    await page.reload();
    await page.waitForSelector('[data-preview=moving]');
    await page.keyboard.press('6');
    expect([await readFabric(page, 'Friction'), await readFabric(page, 'Density')]).deep.equal([
      '0.44',
      '333',
    ]);

    // The same number is another matter: mine can be kept as a version.
    await setFabric(page, 'Friction', '0.90');
    await waitUntilSaved(page);
    await setFabric(other, 'Friction', '0.10');
    const alert = other.getByRole('alertdialog');
    await alert.getByText('Another window was here first').waitFor();
    expect(await alert.getByRole('row').nth(1).textContent())
      .contain('Oilskin')
      .and.contain('0.10.9');
    await alert.getByRole('button', { name: 'Keep mine as a version' }).click();
    await other.getByText('Yours is kept as a version').waitFor();
    expect(await readFabric(other, 'Friction')).equal('0.90');
    await openHistory();
    await dialog()
      .getByText(/^Kept from a window at/)
      .waitFor();
    expect([...page.faults, ...other.faults]).deep.equal([]);
    await other.context().close();
  });
});
