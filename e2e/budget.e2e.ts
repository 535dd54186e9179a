import { type ChildProcess, spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemoStage, type Stage } from './application.ts';

describe('the budget', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };
  const busy: ChildProcess[] = [];

  before(async () => {
    // One thread of a worker, to measure the machine with.
    ({ stage, page } = await openDemoStage(1));
  });

  afterEach(() => {
    for (const process of busy.splice(0)) process.kill('SIGKILL');
  });

  after(() => stage?.close());

  /** Keeps every processor busy. */
  const load = (): void => {
    for (let core = 0; core < availableParallelism(); core++)
      busy.push(spawn(process.execPath, ['-e', 'for (;;) Math.sqrt(Date.now());'], { stdio: 'ignore' }));
  };
  const readCost = async (): Promise<string> => {
    await page.waitForSelector('[data-cost-kind=clip]', { timeout: 360_000 });
    return (await page.locator('[data-cost]').getAttribute('data-cost'))!;
  };
  /** Has the page measure its clip again. */
  const measureAgain = async (): Promise<void> => {
    await inspect(page, ({ workbench }) => workbench.trial.measure(workbench.session.state.clip, 0));
    await page.waitForSelector('[data-cost-kind=live]');
  };

  it('tells the same cost to the last digit while another process keeps every core busy', async () => {
    const calm = await readCost();
    expect(Number(calm)).above(0.3);
    load();
    await measureAgain();
    expect(await readCost()).equal(calm);
  });

  it('splits it by task, garment and body, with the worst frame, and says what it is measured by', async () => {
    const total = Number(await readCost());
    await page.getByRole('button', { name: 'Budget' }).click();
    const card = page.locator('[data-radix-popper-content-wrapper]');
    const readTable = async (heading: string): Promise<number> => {
      const table = card.locator(`h3:has-text("${heading}") + table`);
      const cells = await table.locator('td:last-child').allInnerTexts();
      return cells.reduce((sum, cell) => sum + Number.parseFloat(cell), 0);
    };
    expect(await readTable('Cost by task')).closeTo(total, 0.005);
    // Joints belong to no garment.
    expect(await readTable('By garment')).within(0.8 * total, total);
    expect(await readTable('By collision body')).above(0.01);
    const [mean, p95, worst] = (await card.locator('.grid-cols-3 .font-semibold').allInnerTexts()).map(
      Number.parseFloat,
    );
    expect(mean).closeTo(total, 0.006);
    expect(p95).within(mean!, worst!);
    await card.getByText('By the clock, in this browser').click();
    expect(Number(await card.locator('[data-measured]').getAttribute('data-measured'))).above(0.3);
  });

  it('measures this machine when asked, as a task that can be ended', async () => {
    const before = await readCost();
    const card = page.locator('[data-radix-popper-content-wrapper]');
    expect(await card.getByText('As on the reference machine').isVisible()).equal(true);
    await card.getByRole('button', { name: 'Measure this machine' }).click();
    await card.getByText('% of about two minutes').waitFor();
    await inspect(page, async ({ workbench }) => {
      const { tasks } = workbench.trials.watch.store.state;
      const { id } = tasks.find(({ kind }) => kind === 'calibration')!;
      await fetch(`/api/tasks/${id}`, { method: 'DELETE' });
    });
    await card.getByText('% of about two minutes').waitFor({ state: 'detached' });
    expect(await readCost()).equal(before);
    await page.keyboard.press('Escape');
  });

  it('is got under by what saves most for what it harms: planted waste first, as one step', async () => {
    const sound = Number(await readCost());
    await inspect(page, ({ workbench }) => {
      const { editor } = workbench;
      const records = [...editor.document.records.values()];
      const body = records.find((record) => record.type === 'body')!;
      const poncho = records.find((record) => record.type === 'garment' && record.name === 'Poncho')!;
      if (poncho.type !== 'garment' || body.type !== 'body') throw new Error('not the pilot');
      const far = { kind: 'taperedCapsule', a: [0, 3, 0], b: [0, 4, 0], radiusA: 0.1, radiusB: 0.1 } as const;
      for (let i = 0; i < 6; i++) {
        const id = `waste-${i}` as typeof body.id;
        editor.changeRecords('Plant waste', [[id, { ...body, id, name: id, shape: far as never }]]);
      }
      const fabric = editor.document.records.get(poncho.fabricId)!;
      if (fabric.type !== 'fabric') throw new Error('no fabric');
      const settings = { ...fabric.settings, substepsPerSecond: 3 * fabric.settings.substepsPerSecond };
      editor.changeRecords('Plant waste', [[fabric.id, { ...fabric, settings }]]);
    });
    await page.waitForSelector('[data-cost-kind=live]');
    const wasteful = Number(await readCost());
    expect(wasteful).above(1.3 * sound);
    await page.getByRole('button', { name: 'Budget' }).click();
    const budget = 1.2 * sound;
    await page.getByRole('textbox', { name: 'Budget' }).fill(budget.toFixed(2));
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Look for savings' }).click();
    await page.getByRole('progressbar', { name: 'Looking for savings' }).waitFor();
    await page.waitForSelector('[data-advice-best=under]', { timeout: 480_000 });
    const rows = page.getByRole('table', { name: 'Changes that save' }).getByRole('row');
    const firstRows = await Promise.all([1, 2, 3].map((row) => rows.nth(row).textContent()));
    if (process.env.LOOK) await page.screenshot({ path: '/tmp/advice.png' });
    expect(firstRows.some((text) => /^Remove \d+ bodies that nothing touches/.test(text!))).equal(true);
    expect(firstRows.some((text) => /^Poncho: \d+ substeps a frame/.test(text!))).equal(true);
    const [first, broken] = await Promise.all(
      ['[data-breaks=""]', '[data-breaks]:not([data-breaks=""])'].map((rest) => page.locator(rest).count()),
    );
    expect(first).above(1);
    expect(broken).above(0);
    if (process.env.LOOK) await page.screenshot({ path: '/tmp/advice.png' });
    await page.getByRole('button', { name: 'Get under budget' }).click();
    await page.waitForSelector('[data-cost-kind=live]');
    expect(Number(await readCost())).most(budget + 0.005);
    await page.getByText('Measured before the last edit').waitFor();
    await page.keyboard.press('Escape');
    // The message that tells of it may have gone, or not.
    await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
    await page.waitForSelector('[data-cost-kind=live]');
    expect(Number(await readCost())).closeTo(wasteful, 1e-4);
    expect(page.faults).deep.equal([]);
  });
});
