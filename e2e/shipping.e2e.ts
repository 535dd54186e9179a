import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { getGltfIo, readCharacter } from '../formats/index.ts';
import { createStrip } from '../formats/test-gltf.ts';
import { inspect, openDemoStage, type Stage, sendSave, waitUntilSaved } from './application.ts';

/** What leaves the house is what was on the screen, whatever the network and other windows do meanwhile. */
describe('shipping what is on the screen', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  let id: string;

  before(async () => {
    await getGltfIo();
    ({ stage, page } = await openDemoStage());
    id = await inspect(page, ({ workbench }) => workbench.info.id);
  });

  after(() => stage?.close());

  const goTo = async (key: string, heading: string): Promise<void> => {
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press(key);
    await page.getByRole('heading', { name: heading, exact: true }).waitFor();
  };
  /** Types a weight of the cloth and goes on to ship at once. */
  const changeAndShip = async (density: number): Promise<void> => {
    await goTo('6', 'Fabric');
    const field = page.getByRole('textbox', { name: 'Density' });
    await field.fill(String(density));
    await field.press('Enter');
    await goTo('8', 'Ship');
    await page.getByRole('button', { name: 'Write the file' }).click();
  };
  const readShipped = async (): Promise<{ density: number; revision: number }> => {
    const link = page.getByRole('link', { name: 'Download' });
    const path = (await link.getAttribute('href'))!;
    const bytes = new Uint8Array(await (await fetch(stage.application.address + path)).arrayBuffer());
    const { source, authored } = await readCharacter([{ name: 'shipped.glb', bytes }]);
    const records = [...authored!.records.values()];
    const sash = records.find((record) => record.type === 'garment' && record.name === 'Sash tail');
    const fabric = records.find((record) => sash?.type === 'garment' && record.id === sash.fabricId);
    const extension = source!.json.extensions!.COBWEB_cloth as { revision: number };
    return {
      density: fabric?.type === 'fabric' ? Math.round(fabric.settings.density * 1000) : Number.NaN,
      revision: extension.revision,
    };
  };
  const send = (method: string, path: string, body: FormData | object): Promise<Response> =>
    fetch(`${stage.application.address}/api${path}`, {
      method,
      headers: {
        Origin: stage.application.address,
        ...(body instanceof FormData ? {} : { 'Content-Type': 'application/json' }),
      },
      body: body instanceof FormData ? body : JSON.stringify(body),
    });

  it('waits for a slow save, and names the revision in the panel and in the file', async () => {
    await page.getByRole('button', { name: /^Sash tail/ }).click();
    await page.route('**/changes', async (route) => {
      await new Promise((resolve) => setTimeout(resolve, 1500));
      await route.continue();
    });
    await changeAndShip(333);
    await page.getByRole('link', { name: 'Download' }).waitFor();
    await page.unroute('**/changes');
    await waitUntilSaved(page);
    const { density, revision } = await readShipped();
    expect(density).equal(333);
    await page.getByText(`made of revision ${revision}`).waitFor();
    expect(await page.locator('[data-stale]').count()).equal(0);
  });

  it('writes nothing when the save fails, says so, and goes on when it works again', async () => {
    await page.route('**/changes', (route) => route.abort());
    page.faults.length = 0;
    await changeAndShip(344);
    const alert = page.getByRole('alert').filter({ hasText: 'Nothing was written' });
    await alert.waitFor();
    expect(await alert.textContent())
      .contain('could not be saved')
      .and.contain('kept on this page');
    expect(await page.getByRole('link', { name: 'Download' }).count()).equal(0);
    await page.unroute('**/changes');
    // The refused requests are the test's own doing.
    page.faults.length = 0;
    await page.getByRole('button', { name: 'Write the file' }).click();
    await page.getByRole('link', { name: 'Download' }).waitFor();
    expect((await readShipped()).density).equal(344);
  });

  it('says when the character has changed since, here or in another window', async () => {
    const stale = page.locator('[data-stale]');
    await goTo('6', 'Fabric');
    await goTo('8', 'Ship');
    await page.getByRole('button', { name: 'Write the file' }).click();
    await page.getByRole('link', { name: 'Download' }).waitFor();
    expect(await stale.count()).equal(0);
    await page.keyboard.press('Control+z');
    await stale.waitFor();
    await page.keyboard.press('Control+Shift+z');
    await waitUntilSaved(page);
    await page.getByRole('button', { name: 'Write the file' }).click();
    // The link of the earlier file goes while the new one is written.
    await page.getByText('Writing and checking').waitFor({ state: 'detached' });
    await page.getByRole('link', { name: 'Download' }).waitFor();
    expect(await stale.count()).equal(0);
    const other = { type: 'bodySet', id: 'elsewhere', name: 'From another window', follows: 'skin' };
    const changes = [{ id: 'elsewhere', baseVersion: 0, record: other }];
    expect((await sendSave(stage.application.address, id, changes as never)).status).equal(200);
    await page.evaluate(() => dispatchEvent(new Event('focus')));
    await stale.waitFor();
  });

  it('writes nothing that this window does not show, and offers to load it', async () => {
    await page.getByRole('button', { name: 'Write the file' }).click();
    const alert = page.getByRole('alert').filter({ hasText: 'Another window has changed this character' });
    await alert.waitFor();
    await alert.getByRole('button', { name: 'Reload the page' }).click();
    await page.waitForSelector('[data-preview=moving]');
    await goTo('8', 'Ship');
    await page.getByRole('button', { name: 'Write the file' }).click();
    await page.getByRole('link', { name: 'Download' }).waitFor();
  });

  it('writes nothing while two windows disagree', async () => {
    const garment = await inspect(page, ({ workbench }) => {
      const records = [...workbench.editor.document.records.values()];
      const sash = records.find((record) => record.type === 'garment' && record.name === 'Sash tail')!;
      const fabric = records.find((record) => sash.type === 'garment' && record.id === sash.fabricId)!;
      return { record: fabric, baseVersion: workbench.saver.versions[fabric.id]! };
    });
    const { record } = garment;
    if (record.type !== 'fabric') throw new Error('no fabric');
    const theirs = { ...record, settings: { ...record.settings, density: 0.9 } };
    const changes = [{ id: theirs.id, baseVersion: garment.baseVersion, record: theirs }];
    expect((await sendSave(stage.application.address, id, changes as never)).status).equal(200);
    await page.getByRole('button', { name: /^Sash tail/ }).click();
    await changeAndShip(355);
    await page.getByRole('alertdialog').getByText('Another window was here first').waitFor();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Keep mine', exact: true }).click();
    const alert = page.getByRole('alert').filter({ hasText: 'Nothing was written' });
    expect(await alert.textContent()).contain('Choose which to keep');
    await waitUntilSaved(page);
    await page.getByRole('button', { name: 'Write the file' }).click();
    await page.getByRole('link', { name: 'Download' }).waitFor();
    expect((await readShipped()).density).equal(355);
    expect(page.faults).deep.equal([]);
  });

  it('answers requests at the same moment with success or in words', async () => {
    const form = (name: string): FormData => {
      const builder = createStrip();
      builder.json.nodes!.forEach((node, i) => {
        if (i === 0) node.name = 'root';
      });
      builder.json.animations![0]!.name = name;
      const body = new FormData();
      body.append('files', new Blob([new Uint8Array(builder.toGlb())]), `${name}.glb`);
      return body;
    };
    const made = (await (
      await send(
        'POST',
        `/projects/${await inspect(page, ({ workbench }) => workbench.info.project.id)}/characters`,
        form('first'),
      )
    ).json()) as { id: string };
    const renames = Array.from({ length: 10 }, (_, i) =>
      send('PATCH', `/characters/${made.id}`, { name: `name ${i}` }),
    );
    const clips = ['nod', 'wave', 'bow'].map((name) =>
      send('POST', `/characters/${made.id}/clips`, form(name)),
    );
    const answers = await Promise.all([...renames, ...clips]);
    for (const answer of answers) {
      expect([200, 201, 409]).include(answer.status);
      if (answer.status === 409)
        expect(((await answer.json()) as { error: { message: string } }).error.message).match(/again/);
    }
    expect(answers.slice(0, 10).map(({ status }) => status)).deep.equal(Array(10).fill(200));
    expect(answers.slice(10).map(({ status }) => status)).deep.equal([201, 201, 201]);
  });
});
