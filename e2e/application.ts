import { join } from 'node:path';
import { type Browser, chromium, type Page } from 'playwright-core';
import { type Application, startApplication } from '../cli/start-application.ts';
import { IntakePool } from '../server/intake/intake-pool.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { seedDemo } from '../server/seed-demo.ts';
import { createTestDatabase } from '../server/test-database.ts';
import { encodeSave, type RecordSave, SAVE_CONTENT_TYPE } from '../web/wire/save-format.ts';

const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium';
const ARGUMENTS = [
  '--headless',
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--use-angle=gl-egl',
  '--ignore-gpu-blocklist',
];

export interface Stage {
  application: Application;
  browser: Browser;
  close(): Promise<void>;
}

let seeded: Promise<string> | null = null;

/** A database with the demo in it, made once: reading three characters in takes seconds. */
async function seedOnce(): Promise<string> {
  const { orm, name } = await createTestDatabase();
  const pool = new IntakePool();
  await seedDemo(orm, pool, join(findProjectRoot(), '.cobweb', 'cache'));
  await pool.close();
  await orm.close();
  return name;
}

/** The application on a database of its own, with the demo, and a browser. */
/** @param workerThreads - Of a worker that does tasks; without one they wait, and nothing disturbs what is timed. */
export async function openStage(workerThreads = 0): Promise<Stage> {
  seeded ??= seedOnce();
  const { orm, url } = await createTestDatabase(await seeded);
  await orm.close();
  const application = await startApplication({
    port: 0,
    mayMove: true,
    say: () => {},
    workerThreads,
    database: { url, stop: async () => {} },
  });
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: ARGUMENTS });
  return {
    application,
    browser,
    async close() {
      await browser.close();
      await application.stop();
    },
  };
}

/** A page that fails the test on any error in it. Draws lightly, and lets the test point at things. */
export async function openPage(
  { application, browser }: Stage,
  path = '/',
): Promise<Page & { faults: string[] }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
  context.setDefaultTimeout(90_000);
  const page = (await context.newPage()) as Page & { faults: string[] };
  page.faults = [];
  page.on('pageerror', (error) => page.faults.push(error.message));
  page.on('console', (message) => {
    // A refused request is told on the page; the browser's own line about it is no fault of ours.
    if (message.type() === 'error' && !/status of (409|422)/.test(message.text()))
      page.faults.push(message.text());
  });
  await page.addInitScript(() => {
    localStorage.setItem('light-drawing', 'on');
    localStorage.setItem('debug', 'on');
    localStorage.setItem('trials-by-themselves', 'off');
  });
  await page.goto(application.address + path);
  return page;
}

/** Opens the demo character from the library. */
export async function openDemo(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Open Ferry pilot', exact: true }).click();
  await page.waitForSelector('[data-preview=moving]');
}

/** The application with the demo character open in a browser. */
export async function openDemoStage(
  workerThreads = 0,
): Promise<{ stage: Stage; page: Page & { faults: string[] } }> {
  const stage = await openStage(workerThreads);
  const page = await openPage(stage);
  await openDemo(page);
  return { stage, page };
}

/** Waits for the newest trial to end. @returns The deepest penetration of the reel, mm. */
export async function readPenetration(page: Page): Promise<number> {
  await page.waitForTimeout(250);
  await page.waitForSelector('[data-trial=done]', { timeout: 180_000 });
  return Number(await page.locator('[data-row=penetration]').getAttribute('data-shown'));
}

export async function waitUntilSaved(page: Page): Promise<void> {
  await page.waitForSelector('[data-save-state=saved]', { timeout: 30_000 });
}

interface DebugWindow {
  cobweb: {
    workbench: import('../web/state/workbench.ts').Workbench;
    viewport: import('../web/viewport/viewport.ts').Viewport;
  };
}

/** Reads something of the page's own objects. */
export function inspect<T, A>(
  page: Page,
  read: (cobweb: DebugWindow['cobweb'], argument: A) => T,
  argument?: A,
): Promise<T> {
  return page.evaluate(
    ([source, given]) => {
      const cobweb = (window as unknown as DebugWindow).cobweb;
      // The function crosses as text; it may use its two arguments only.
      // The compiler wraps named functions in a helper of its own, which the page does not have.
      const body = `const __name = (named) => named; return (${source as string})(cobweb, argument)`;
      return new Function('cobweb', 'argument', body)(cobweb, given) as T;
    },
    [read.toString(), argument] as const,
  );
}

/** Saves as a page of another window does. */
export function sendSave(address: string, characterId: string, changes: RecordSave[]): Promise<Response> {
  return fetch(`${address}/api/characters/${characterId}/changes`, {
    method: 'POST',
    headers: { 'Content-Type': SAVE_CONTENT_TYPE, Origin: address },
    body: encodeSave({ window: 'another window', changes }),
  });
}
