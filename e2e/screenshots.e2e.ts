import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { writeTimingsTemplate } from '../core/budget/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { openPage, openStage, type Stage, waitUntilSaved } from './application.ts';
import { fillTimings } from './fill-timings.ts';

const ROOT = findProjectRoot();
const FOLDER = join(ROOT, 'docs', 'screenshots');
/** The place of the canvas that the picture of a brush is taken at. */
const ON_CLOTH = [600, 330] as const;

type Take = (page: Page) => Promise<void>;

async function open(page: Page, character: string, key: string): Promise<void> {
  await page
    .getByRole('link', { name: `Open ${character}`, exact: true })
    .first()
    .click();
  await page.waitForSelector('[data-preview=moving]');
  await page.keyboard.press(key);
}

/** Until the reel has its figures. */
async function measured(page: Page): Promise<void> {
  await page.waitForTimeout(500);
  await page.waitForSelector('[data-trial=done]', { timeout: 270_000 });
  await page.waitForTimeout(1200);
}

const choose = (page: Page, garment: string): Promise<void> =>
  page
    .getByRole('button', { name: new RegExp(`^${garment}`) })
    .first()
    .click();

/** Levels as they are proposed, measured on one clip. */
async function measureLevels(page: Page, character: string): Promise<void> {
  await open(page, character, '0');
  await page.getByRole('button', { name: 'Propose levels for all garments' }).click();
  await page.getByRole('button', { name: 'Measure the sizes' }).click();
  await page.getByRole('button', { name: 'Measure again' }).waitFor({ timeout: 480_000 });
  await waitUntilSaved(page);
}

async function prepareDelivery(page: Page): Promise<void> {
  await open(page, 'Ferry pilot, as delivered', '2');
  await page.getByRole('button', { name: 'Make Oilskin coat a garment' }).click();
  await page.getByRole('list', { name: 'Mesh health' }).waitFor({ timeout: 180_000 });
}

/** A trial of the clips as they are set, an edit that makes some of them worse, and another trial beside the first. */
async function runTrials(page: Page): Promise<void> {
  await open(page, 'Ferry pilot', '7');
  await page.getByRole('button', { name: /runs, / }).click();
  for (const name of ['still', 'strong', '30', '120', 'uneven'])
    await page.getByLabel('Run', { exact: true }).getByRole('button', { name, exact: true }).click();
  await page.getByRole('button', { name: /runs, / }).click();
  const isDone = { timeout: 360_000 };
  await page.getByRole('button', { name: 'Run a trial' }).click();
  await page.waitForSelector('[data-fits=true]', isDone);
  await page.keyboard.press('6');
  await choose(page, 'Poncho');
  await page.getByRole('textbox', { name: 'Thickness' }).fill('9');
  await page.keyboard.press('Enter');
  await page.keyboard.press('7');
  await page.waitForSelector('[data-fits=false]');
  await page.getByRole('button', { name: 'Run a trial' }).click();
  await page.waitForSelector('[data-fits=true]', isDone);
  await page.getByLabel('Earlier trial beside it').selectOption({ index: 1 });
  await page.waitForSelector('[data-edits]');
}

/** Each main view, from the demo. */
const TAKES: Readonly<Record<string, Take>> = {
  library: async (page) => {
    await page.getByRole('link', { name: 'Open Ferry pilot', exact: true }).waitFor();
    await page.waitForTimeout(1500);
  },
  intake: async (page) => {
    await open(page, 'Ferry pilot', '1');
    await measured(page);
  },
  garment: async (page) => {
    await prepareDelivery(page);
    await page.getByRole('button', { name: 'Show Turned triangles' }).click();
    await page.waitForTimeout(2500);
  },
  'sim-mesh': async (page) => {
    await prepareDelivery(page);
    await page.getByRole('button', { name: /^Repair all/ }).click();
    await page.waitForTimeout(12_000);
    await page.keyboard.press('3');
    await page.getByRole('button', { name: 'Build the sim mesh' }).click();
    await page.getByText('Edges near target').waitFor({ timeout: 180_000 });
    await page.waitForTimeout(1500);
  },
  weights: async (page) => {
    await open(page, 'Lamplighter', '2');
    await measured(page);
    await choose(page, 'Under-smock');
    await page.getByRole('button', { name: 'Paint weights' }).click();
    await page.waitForTimeout(1500);
    await page.mouse.move(ON_CLOTH[0], ON_CLOTH[1] + 60);
    await page.waitForTimeout(600);
  },
  reach: async (page) => {
    await open(page, 'Ferry pilot', '4');
    await choose(page, 'Poncho');
    await measured(page);
    await page.mouse.move(...ON_CLOTH);
    await page.waitForTimeout(600);
  },
  bodies: async (page) => {
    await open(page, 'Ferry pilot', '5');
    await choose(page, 'Poncho');
    await page.getByText('forearm_l').first().click();
    await measured(page);
  },
  targets: async (page) => {
    await page.getByRole('link', { name: 'Targets' }).click();
    const bring = (): Promise<void> =>
      page.getByLabel('Timings or a target profile').setInputFiles({
        name: 'timings.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from(fillTimings(writeTimingsTemplate())),
      });
    await bring();
    await page.getByRole('textbox', { name: 'Name of the target' }).fill('Handheld', { timeout: 180_000 });
    await page.keyboard.press('Enter');
    await page.locator('[data-target=Handheld]').getByRole('textbox', { name: 'Frame rate' }).fill('30');
    await page.keyboard.press('Enter');
    await page.getByText('What was fitted, and how well').click();
    await bring();
    await page.getByRole('form', { name: 'Fitted timings' }).waitFor({ timeout: 180_000 });
    await page.waitForTimeout(400);
  },
  'body-figures': async (page) => {
    await open(page, 'Ferry pilot', '5');
    await choose(page, 'Poncho');
    await measured(page);
    await page.getByRole('button', { name: 'Measure touches, depth and cost' }).click();
    await page.getByRole('button', { name: 'Measure again' }).waitFor({ timeout: 360_000 });
    await page.getByRole('button', { name: 'Heat map' }).click();
    await page.getByRole('button', { name: 'Saves mm' }).click();
    await page.getByRole('button', { name: 'Saves mm' }).click();
    await page.waitForTimeout(1500);
  },
  fabric: async (page) => {
    await open(page, 'Ferry pilot', '6');
    await choose(page, 'Poncho');
    await measured(page);
  },
  search: async (page) => {
    await open(page, 'Ferry pilot', '6');
    await choose(page, 'Sash tail');
    await page.getByRole('button', { name: 'Search', exact: true }).first().click();
    const card = page.getByRole('region', { name: 'Search' });
    for (const name of ['standing breath', 'run', 'sharp turn', 'crouch and pull'])
      await card.getByRole('button', { name, exact: true }).click();
    await card.getByRole('textbox', { name: 'Candidates' }).fill('40');
    await page.keyboard.press('Enter');
    await card.getByRole('button', { name: 'Search', exact: true }).click();
    await page.waitForSelector('[data-candidates="40"]', { timeout: 480_000 });
    await page.getByRole('button', { name: 'Look at it' }).click();
    await page.waitForTimeout(1500);
  },
  compare: async (page) => {
    await open(page, 'Ferry pilot', '6');
    await page.getByRole('link', { name: 'Compare' }).click();
    await page.waitForURL(/compare$/);
    await page.waitForSelector('[data-preview=moving]');
    await measured(page);
  },
  trials: async (page) => {
    await runTrials(page);
    await page
      .getByRole('button', { name: /^run: penetration/ })
      .first()
      .click();
    await page.waitForTimeout(2500);
  },
  tasks: async (page) => {
    await runTrials(page);
    await page.getByRole('button', { name: 'Run a trial' }).click();
    await page.waitForSelector('[data-task=running]');
    await page.goto(new URL('/tasks', page.url()).href);
    await page.waitForSelector('progress');
    await page.waitForTimeout(4000);
  },
  ship: async (page) => {
    await open(page, 'Lamplighter', '8');
    await page.getByRole('heading', { name: 'Ship' }).waitFor();
    await measured(page);
  },
  budget: async (page) => {
    await open(page, 'Ferry pilot', '6');
    await page.waitForSelector('[data-cost-kind=clip]', { timeout: 360_000 });
    await page.getByRole('button', { name: 'Budget' }).click();
    await page.getByRole('textbox', { name: 'Budget' }).fill('3.5');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Look for savings' }).click();
    await page.waitForSelector('[data-advice-best]', { timeout: 480_000 });
    await page.waitForTimeout(600);
  },
  versions: async (page) => {
    await open(page, 'Ferry pilot', '6');
    const setFriction = async (value: string): Promise<void> => {
      await page.getByRole('textbox', { name: 'Friction' }).fill(value);
      await page.keyboard.press('Enter');
    };
    const dialog = page.getByRole('dialog', { name: 'Versions' });
    await setFriction('0.31');
    await page.getByRole('button', { name: 'Versions', exact: true }).click();
    await dialog.getByLabel('Name of the version').fill('Before the smoother coat');
    await page.keyboard.press('Enter');
    await dialog.getByText('Before the smoother coat').waitFor();
    await page.keyboard.press('Escape');
    await setFriction('0.2');
    await waitUntilSaved(page);
    await page.getByRole('button', { name: 'Versions', exact: true }).click();
    await dialog
      .getByText(/friction/)
      .first()
      .waitFor();
    await page.waitForTimeout(800);
  },
  levels: async (page) => {
    await measureLevels(page, 'Lamplighter');
    await page.locator('[data-band="2"]').getByRole('button', { name: 'Hold' }).click();
    await page.waitForTimeout(3500);
  },
  crowd: async (page) => {
    await measureLevels(page, 'Ferry pilot');
    await page.getByRole('link', { name: 'Cobweb' }).click();
    await measureLevels(page, 'Lamplighter');
    await page.getByRole('link', { name: /^Crowd of/ }).click();
    for (const name of ['Lamplighter', 'Ferry pilot'])
      await page.getByLabel('In view').getByRole('button', { name, exact: true }).click();
    await page.getByLabel('Number of Lamplighter', { exact: true }).fill('2');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(800);
  },
};

// Pictures for the documents, taken when they are asked for: COBWEB_SCREENSHOTS=all, or names with commas between.
const asked = process.env.COBWEB_SCREENSHOTS;
if (asked) {
  describe('screenshots', function () {
    // What searches or tries changes takes minutes.
    this.timeout(900_000);
    let stage: Stage;
    beforeEach(async () => {
      stage = await openStage(2);
    });
    afterEach(() => stage?.close());

    for (const name of Object.keys(TAKES).filter(
      (one) => asked === 'all' || asked.split(',').includes(one),
    )) {
      it(`${name}.png`, async () => {
        const page = await openPage(stage);
        await page.addInitScript(() => localStorage.setItem('light-drawing', 'off'));
        await page.reload();
        await TAKES[name]!(page);
        await page.screenshot({ path: join(FOLDER, `${name}.png`) });
      });
    }
  });
}
