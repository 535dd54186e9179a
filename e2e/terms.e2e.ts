import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { openDemoStage, type Stage } from './application.ts';

describe('words that tell what they mean', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    ({ stage, page } = await openDemoStage());
  });

  after(() => stage.close());

  const readCard = async (word: string): Promise<{ text: string; address: string | null }> => {
    await page.mouse.move(5, 400);
    await page
      .locator('.term', { hasText: new RegExp(`^${word}$`) })
      .first()
      .hover();
    const link = page.getByRole('link', { name: 'More in the manual' });
    await link.waitFor();
    const card = link.locator('..');
    const told = { text: (await card.textContent())!, address: await link.getAttribute('href') };
    await page.mouse.move(5, 400);
    await link.waitFor({ state: 'detached' });
    return told;
  };

  it('do so in the panel of a stage, in the legend and in the reel, each with its page of the manual', async () => {
    await page.keyboard.press('6');
    const cap = await readCard('Stretch cap');
    expect(cap.text)
      .contain('Longest distance to the nearest held vertex')
      .contain('100 to 200 %, usual 105');
    expect(cap.address).equal('/manual/fabric');
    await page.keyboard.press('4');
    expect(await readCard('held')).include({ address: '/manual/reach' });
    expect((await readCard('max distance')).text).contain('How far a vertex may leave its skinned place');
    const reel = await readCard('jitter');
    expect(reel.text).contain('shake from frame to frame');
    expect(reel.address).equal('/manual/reel');
    expect((await page.request.get(stage.application.address + reel.address)).status()).equal(200);
  });

  it('and to who has no pointer as the description of the field', async () => {
    await page.keyboard.press('6');
    const field = page.getByRole('textbox', { name: 'Stretch cap' });
    const id = await field.getAttribute('aria-describedby');
    expect(await page.locator(`[id="${id}"]`).textContent()).equal(
      (await readCard('Stretch cap')).text.replace('More in the manual', ''),
    );
    expect(page.faults).deep.equal([]);
  });
});
