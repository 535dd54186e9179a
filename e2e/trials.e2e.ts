import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemo, openPage, openStage, type Stage, waitUntilSaved } from './application.ts';

describe('trials on the server', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  const button = (name: string | RegExp) =>
    page.getByRole('button', { name, exact: typeof name === 'string' });
  const readTrials = () => inspect(page, ({ workbench }) => workbench.trials.store.state.trials);
  const until = async (isSo: () => Promise<boolean>, most: number): Promise<void> => {
    for (const start = performance.now(); !(await isSo()); ) {
      if (performance.now() - start > most) throw new Error(`It was not so within ${most} ms.`);
      await page.waitForTimeout(100);
    }
  };
  /** Orders one and waits for it. */
  const run = async (): Promise<void> => {
    const count = (await readTrials()).length;
    await button('Run a trial').click();
    await until(async () => (await readTrials()).length > count, 180_000);
  };
  const showFigure = (line: string, measure: string) =>
    page.getByRole('button', { name: new RegExp(`^${line}: ${measure} `) });
  const readWorst = async (line: string, measure: string): Promise<number> =>
    Number(/ (\S+) \S+?(, over|$)/.exec((await showFigure(line, measure).getAttribute('aria-label'))!)![1]);

  before(async () => {
    stage = await openStage(1);
    page = await openPage(stage);
    await openDemo(page);
    // Those of the project hold where a character has none of its own.
    await inspect(page, ({ workbench }) => workbench.editor.updateScene('Limits', { trialLimits: {} }));
    await page.keyboard.press('7');
  });

  after(async () => {
    expect(page.faults).deep.equal([]);
    await stage.close();
  });

  it('plays what is chosen, tells how far it is, and says what fails, where', async () => {
    await button(/^30 runs, 4,/).click();
    for (const name of [
      'standing breath',
      'sharp turn',
      'crouch and pull',
      'still',
      'strong',
      '30',
      '120',
      'uneven',
    ])
      await page.getByLabel('Run', { exact: true }).getByRole('button', { name, exact: true }).click();
    await button(/^2 runs, 1\d\d frames$/).click();
    await run();
    await page.waitForSelector('[data-fits=true]');
    expect(await page.locator('[data-passes]').count()).equal(2);
    expect(await page.locator('[data-failing]').textContent()).match(
      /of 2 runs fail|1 of 2 runs fails|All 2 runs pass/,
    );
    // The number of the grid is that of the rows that came, and that of the same run here.
    const stretch = await readWorst('run', 'stretch');
    expect(stretch).above(0);
    await showFigure('run', 'stretch').click();
    const { clip, time, focus, worst } = await inspect(page, ({ workbench }) => {
      const { clip, focus } = workbench.session.state;
      const rows = workbench.trials.store.state.shown!.rows.find(({ name }) => name === 'run')!;
      const worst = Math.max(...rows.whole.stretch);
      return {
        clip: workbench.editor.character.clips[clip!]!.name,
        time: rows.times[rows.whole.stretch.indexOf(worst)]!,
        focus,
        worst,
      };
    });
    expect(clip).equal('run');
    expect(100 * worst).closeTo(stretch, 0.051);
    expect(focus).not.equal(null);
    await until(
      async () =>
        Math.abs((await inspect(page, ({ workbench }) => workbench.preview.readFrame()!.time)) - time) < 0.02,
      5000,
    );
    await page.getByRole('img', { name: /^stretch of run over time/ }).waitFor();
  });

  it('is what the reel shows at once of another clip, without measuring it here again', async () => {
    const finished = (): Promise<number> =>
      inspect(page, ({ workbench }) => workbench.trial.store.state.finished);
    const before = await finished();
    await page.getByRole('radio', { name: 'walk', exact: true }).click();
    await page.waitForSelector('[data-trial=done]', { timeout: 2000 });
    expect(await finished()).equal(before + 1);
    const shown = Number(await page.locator('[data-row=stretch]').getAttribute('data-shown'));
    expect(shown).closeTo(await readWorst('walk', 'stretch'), 0.051);
    // Measured in this page, the same comes out: a clip that no trial has is.
    await page.getByRole('radio', { name: 'standing breath' }).click();
    await page.waitForSelector('[data-trial=running]');
    await page.getByRole('radio', { name: 'walk', exact: true }).click();
    await page.waitForSelector('[data-trial=done]', { timeout: 2000 });
  });

  it('is judged by the limits of now, without another trial', async () => {
    const failing = async (): Promise<number> =>
      Number(await page.locator('[data-failing]').getAttribute('data-failing'));
    await button('Limits…').click();
    await page.getByLabel('Limit of stretch for all garments', { exact: true }).fill('1');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    await page.waitForSelector('[data-failing="2"]');
    await page.getByRole('radio', { name: 'Failing', exact: true }).click();
    expect(await page.locator('[data-passes=false]').count()).equal(2);
    await page.getByRole('radio', { name: 'All', exact: true }).click();
    await button('Undo').click();
    await waitUntilSaved(page);
    expect(await page.locator('[data-fits=true]').count()).equal(1);
    expect(await failing()).below(3);
  });

  it('is judged by the limits of the project, which hold for its other characters too', async () => {
    const untilOver = (isSo: boolean): Promise<void> =>
      until(
        async () =>
          (await showFigure('run', 'stretch').getAttribute('aria-label'))!.endsWith(', over its limit') ===
          isSo,
        10_000,
      );
    await inspect(page, ({ workbench }) => void workbench.projectLimits.set({ stretch: 0.05 }));
    await untilOver(true);
    await button('Limits…').click();
    const field = page.getByLabel('Limit of stretch for the project', { exact: true });
    await field.fill('40');
    await page.keyboard.press('Enter');
    await untilOver(false);
    // The message lets it be taken back.
    const message = page.getByRole('listitem').filter({ hasText: 'for all characters of' }).first();
    await message.getByRole('button', { name: 'Undo' }).click();
    await untilOver(true);
    await button('Limits…').click();
    await field.fill('40');
    await page.keyboard.press('Enter');
    await untilOver(false);
    // What is said of the character itself is nearer.
    await page.getByLabel('Limit of stretch for all garments', { exact: true }).fill('1');
    await page.keyboard.press('Enter');
    await untilOver(true);
    await page.getByRole('button', { name: 'Limit of stretch for all garments: back' }).click();
    await untilOver(false);
    await page.keyboard.press('Escape');
    const readLimits = async (name: RegExp) => {
      const other = await openPage(stage);
      await other.getByRole('link', { name }).first().click();
      await other.waitForSelector('[data-preview=moving]');
      const limits = await inspect(other, ({ workbench }) => workbench.editor.document.projectLimits);
      await other.close();
      return limits;
    };
    expect(await readLimits(/^Open Lamplighter/)).deep.equal({ stretch: 0.4 });
    await button('Limits…').click();
    await page.getByRole('button', { name: 'Limit of stretch for the project: back' }).click();
    await untilOver(false);
    await page.keyboard.press('Escape');
    const readStored = () =>
      inspect(page, async ({ workbench }) => {
        const answer = await fetch(`/api/characters/${workbench.info.id}`);
        return ((await answer.json()) as { project: { limits: object } }).project.limits;
      });
    await until(async () => Object.keys(await readStored()).length === 0, 20_000);
    await waitUntilSaved(page);
  });

  it('stands beside an earlier one: what is better, what is worse, and what was edited between them', async () => {
    await inspect(page, ({ workbench: { editor } }) => {
      const fabric = [...editor.document.records.values()].find((record) => record.type === 'fabric')!;
      editor.changeRecords('Damp it', [
        [fabric.id, { ...fabric, settings: { ...fabric.settings, damping: 0.9 } }],
      ]);
    });
    await page.waitForSelector('[data-fits=false]');
    await run();
    await page.waitForSelector('[data-fits=true]');
    const [, earlier] = await readTrials();
    await page.getByLabel('Earlier trial beside it').selectOption(earlier!.id);
    await page.waitForSelector('[data-edits]');
    expect(await page.locator('[data-edits]').textContent()).match(/fabric/i);
    expect(await page.locator('[data-against]').textContent()).match(/^\d+ better, \d+ worse$/);
    const change = await inspect(page, ({ workbench }) => {
      const { shown, earlier } = workbench.trials.store.state;
      const [now, then] = [shown!, earlier!].map(({ rows }) =>
        Math.max(...rows.find(({ name }) => name === 'run')!.whole.stretch),
      );
      return 100 * (now! - then!);
    });
    const told = await showFigure('run', 'stretch').textContent();
    const words =
      Math.abs(change) < 0.05 ? 'same' : `${change < 0 ? '▼ −' : '▲ +'}${Math.abs(change).toFixed(1)}`;
    expect(told).contain(words);
  });

  it('opens the exact state that it was of, and returns to it as one step', async () => {
    const [, earlier] = await readTrials();
    await page.getByLabel('Trial that is shown').selectOption(earlier!.id);
    await page.waitForSelector('[data-fits=false]');
    await page.getByRole('link', { name: 'Look at what was measured' }).click();
    await page.getByText(/You are looking at the state of the trial of/).waitFor();
    const damping = () =>
      inspect(page, ({ workbench }) =>
        [...workbench.editor.document.records.values()].flatMap((record) =>
          record.type === 'fabric' ? [record.settings.damping] : [],
        ),
      );
    expect(await damping()).not.include(0.9);
    await page.getByRole('link', { name: 'Back to now' }).click();
    await page.waitForSelector('[data-preview=moving]');
    expect(await damping()).include(0.9);
    // It is the newest that is shown, and its rows are there without measuring.
    await page.keyboard.press('7');
    await page.waitForSelector('[data-fits=true]');
  });

  it('fills the reel of a clip as soon as its run is done, while the others go on', async () => {
    await inspect(page, ({ workbench: { editor } }) => {
      const fabric = [...editor.document.records.values()].find((record) => record.type === 'fabric')!;
      editor.changeRecords('Damp it', [
        [fabric.id, { ...fabric, settings: { ...fabric.settings, damping: 1.3 } }],
      ]);
    });
    // By its name, from anywhere.
    await page.keyboard.press('Control+k');
    await page.keyboard.type('run a trial');
    await page.keyboard.press('Enter');
    const readTask = () =>
      inspect(page, ({ workbench: { trials } }) => trials.listOpen(trials.watch.store.state.tasks)[0]);
    await until(async () => ((await readTask())?.partsDone ?? 0) >= 3, 60_000);
    expect(
      await page.getByRole('radio', { name: 'run', exact: true }).getAttribute('aria-checked'),
    ).not.equal('true');
    await page.getByRole('radio', { name: 'run', exact: true }).click();
    await page.waitForSelector('[data-trial=done]', { timeout: 1500 });
    expect((await readTask())!.state).equal('running');
    // Rows as they are stored say where a measure is worst of the worst frame alone: these were not measured here.
    const places = await inspect(page, ({ workbench }) => {
      const { frames, clip } = workbench.trial.store.state;
      const placed = frames.filter(({ garments }) => garments.some((each) => each.places.stretch)).length;
      return { placed, clip: workbench.editor.character.clips[clip!]!.name, count: frames.length };
    });
    expect(places.clip).equal('run');
    expect(places.placed).within(1, 2);
    expect(places.count).above(20);
  });

  it('stops within a second, is listed among the tasks, and goes when it is deleted', async () => {
    await page.waitForSelector('[data-task=running]', { timeout: 90_000 });
    const start = performance.now();
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
    await page.waitForSelector('[data-task]', { state: 'detached' });
    expect(performance.now() - start).below(1500);
    await button('Delete this trial').click();
    await until(async () => (await readTrials()).length === 1, 10_000);
    await page.goto(`${stage.application.address}/tasks`);
    const ended = page.getByRole('list', { name: 'Ended' }).getByRole('listitem');
    await ended.nth(2).waitFor();
    expect(await ended.count()).equal(3);
    expect(await ended.nth(0).textContent()).contain('cancelled');
    expect(await ended.nth(2).textContent()).match(/Ferry pilot[\s\S]*2 of 2 runs[\s\S]*done/);
  });
});
