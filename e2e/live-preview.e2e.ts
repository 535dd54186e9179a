import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemo, openPage, openStage, type Stage } from './application.ts';
import { measureSlowness } from './machine-speed.ts';

/** Limits of time are tried so often: the machine may be busy with something else. */
const ATTEMPTS = 3;

/** No more than so is put down to the machine. */
const MOST_SLOWED = 1.6;

describe('the live preview of the demo', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
  });

  after(() => stage?.close());

  it('shows moving cloth within three seconds of opening', async () => {
    // On a machine of usual speed.
    const open = async (): Promise<number> => {
      const slowness = Math.min(MOST_SLOWED, measureSlowness());
      // As a user comes: the library has been looked at, the workbench not yet.
      await page.getByRole('link', { name: 'Open Ferry pilot', exact: true }).waitFor();
      const start = Date.now();
      await openDemo(page);
      await page.waitForFunction(() => {
        const { cobweb } = window as unknown as {
          cobweb: { workbench: { preview: { readFrame(): { count: number } | null } } };
        };
        return (cobweb?.workbench.preview.readFrame()?.count ?? 0) > 3;
      });
      return (Date.now() - start) / slowness;
    };
    const times = [await open()];
    // What else the machine does only ever adds: of a few first visits the fastest counts.
    while (Math.min(...times) >= 3000 && times.length < ATTEMPTS) {
      await page.context().close();
      page = await openPage(stage);
      times.push(await open());
    }
    expect(Math.min(...times), `ms: ${times.map(Math.round).join(', ')}`).below(3000);
  });

  it('keeps sixty simulated frames a second, and the page responsive, while playing', async () => {
    // The first trial shares the processors with everything else; let it end.
    await page.waitForSelector('[data-trial=done] [data-row=penetration]:not([data-shown=""])', {
      timeout: 180_000,
    });
    await page.waitForTimeout(1000);
    const measure = () =>
      page.evaluate(async () => {
        const { cobweb } = window as unknown as {
          cobweb: { workbench: { preview: { readFrame(): { count: number } } } };
        };
        const longest: number[] = [];
        new PerformanceObserver((list) =>
          longest.push(...list.getEntries().map((entry) => entry.duration)),
        ).observe({ type: 'longtask' });
        const start = performance.now();
        const before = cobweb.workbench.preview.readFrame().count;
        await new Promise((resolve) => setTimeout(resolve, 6000));
        const seconds = (performance.now() - start) / 1000;
        return { rate: (cobweb.workbench.preview.readFrame().count - before) / seconds, longest };
      });
    const tries = [await measure()];
    const isSlow = ({ rate, longest }: (typeof tries)[0]): boolean =>
      rate < 57 || longest.some((ms) => ms > 100);
    while (isSlow(tries.at(-1)!) && tries.length < ATTEMPTS) tries.push(await measure());
    const measured = tries.at(-1)!;
    expect(measured.rate).within(57, 62);
    expect(measured.longest.filter((milliseconds) => milliseconds > 100)).deep.equal([]);
  });

  it('holds still frames, steps them and scrubs', async () => {
    const time = (): Promise<number> => inspect(page, ({ workbench }) => workbench.preview.readFrame()!.time);
    await page.keyboard.press(' ');
    await page.waitForTimeout(300);
    const held = await time();
    await page.waitForTimeout(300);
    expect(await time()).equal(held);
    await page.keyboard.press('.');
    await page.waitForTimeout(200);
    const stepped = await time();
    const duration = await inspect(
      page,
      ({ workbench }) => workbench.editor.character.clips[workbench.session.state.clip!]!.duration,
    );
    expect((stepped - held + duration) % duration).closeTo(1 / 30, 1e-3);
    await page.keyboard.press(' ');
    await page.waitForTimeout(400);
    expect(await time()).not.equal(stepped);
  });

  it('shows the whole course of another clip roughly, before it is measured frame by frame', async () => {
    await page.waitForSelector('[data-trial=done]', { timeout: 180_000 });
    await inspect(page, ({ workbench }) => {
      const seen: number[] = [];
      Object.assign(window, { seen });
      workbench.trial.store.subscribe(() => {
        const { frames, isRunning, clip } = workbench.trial.store.state;
        if (!isRunning || clip !== workbench.session.state.clip) return;
        const glances = frames.filter((frame) => 'isGlance' in frame);
        const { duration } = workbench.editor.character.clips[clip!]!;
        // Rough ones reach the end of the clip while hardly any other is there.
        if (glances.length > 3 && glances.at(-1)!.time > 0.85 * duration)
          seen.push((frames.length - glances.length) / (60 * duration));
      });
    });
    await page.getByRole('radio', { name: 'sharp turn' }).click();
    await page.waitForSelector('[data-trial=done]', { timeout: 180_000 });
    const seen = await page.evaluate(() => (window as unknown as { seen: number[] }).seen);
    expect(Math.min(...seen)).below(0.3);
    const rough = await inspect(
      page,
      ({ workbench }) => workbench.trial.store.state.frames.filter((frame) => 'isGlance' in frame).length,
    );
    expect(rough).equal(0);
    await page.getByRole('radio', { name: 'walk', exact: true }).click();
  });

  it('tells in each row what it is at the playhead, and its limit, which is typed and taken back without measuring anew', async () => {
    await page.keyboard.press(' ');
    await page.waitForSelector('[data-trial=done]', { timeout: 180_000 });
    await page.waitForTimeout(300);
    const row = page.locator('div:has(> [data-row=stretch])');
    const [now, frame] = [
      await row.locator('[data-now]').textContent(),
      await inspect(page, ({ workbench }) => {
        const { time } = workbench.preview.readFrame()!;
        return workbench.trial.store.state.frames.find((one) => Math.abs(one.time - time) <= 0.02)!.stretch;
      }),
    ];
    expect(now).equal(`${(100 * frame).toFixed(1)} %`);
    expect(await row.textContent()).contain('limit 22.0 %');

    const finished = () => inspect(page, ({ workbench }) => workbench.trial.store.state.finished);
    const before = await finished();
    await page.getByRole('button', { name: 'Limits…' }).click();
    await page.getByLabel('Limit of stretch for all garments', { exact: true }).fill('1.5');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Limit of jitter for Poncho: none' }).click();
    await page.keyboard.press('Escape');
    expect(await row.textContent()).contain('limit 1.5 %');
    expect(await row.locator('[data-row=stretch]').getAttribute('title')).contain(
      'over its limit (the strictest: 1.5 %)',
    );
    await page.waitForTimeout(1500);
    expect(await finished()).equal(before);
    expect(await page.locator('[data-trial]').getAttribute('data-trial')).equal('done');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    expect(await row.textContent()).contain('limit 22.0 %');
    await page.keyboard.press(' ');
  });

  it('hides, ghosts and isolates sections, and shows triangles', async () => {
    await page.keyboard.press('1');
    const visible = (name: string): Promise<boolean | undefined> =>
      inspect(
        page,
        ({ workbench }, wanted) => {
          const index = workbench.editor.character.sections.findIndex((section) => section.name === wanted);
          const { visibility, isolated } = workbench.session.state;
          return isolated === null ? (visibility.get(index) ?? 'shown') !== 'hidden' : isolated === index;
        },
        name,
      );
    await page.getByRole('button', { name: 'Hide Hat' }).click();
    expect(await visible('Hat')).equal(false);
    await page.getByRole('button', { name: 'Show only Poncho' }).click();
    expect(await visible('Body')).equal(false);
    await page.getByRole('button', { name: 'show all' }).click();
    expect(await visible('Body')).equal(true);
    await page.getByRole('button', { name: 'Triangles', exact: true }).click();
    await page.waitForTimeout(500);
    expect(page.faults).deep.equal([]);
  });
});
