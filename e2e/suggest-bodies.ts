import type { Page } from 'playwright-core';

/** Suggests so many bodies for one clip in the stage "Bodies", and uses the largest set. */
export async function suggestBodies(page: Page, count: number, clip: string): Promise<void> {
  await page.getByRole('button', { name: 'Suggest bodies', exact: true }).click();
  const card = page.getByRole('region', { name: 'Suggest bodies' });
  await card.getByRole('textbox', { name: 'Bodies' }).fill(String(count));
  await page.keyboard.press('Enter');
  const pressed = await card.getByRole('button', { pressed: true }).allTextContents();
  for (const name of pressed) {
    if ([clip, 'Both sides alike', 'Tapered capsules'].includes(name)) continue;
    await card.getByRole('button', { name, exact: true }).click();
  }
  await card.getByRole('button', { name: 'Suggest', exact: true }).click();
  await card.getByRole('progressbar', { name: 'Suggesting' }).waitFor();
  await card
    .getByRole('progressbar', { name: 'Suggesting' })
    .waitFor({ state: 'detached', timeout: 360_000 });
  await card.getByRole('table', { name: 'Suggested sets' }).getByRole('row').last().click();
  await card.getByRole('button', { name: /^Use / }).click();
  await card.getByRole('button', { name: 'Close the suggestion' }).click();
}
