import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { inspect, openDemo, openPage, openStage, type Stage } from './application.ts';

/** What React tells its developer tools: the roots that it has drawn anew. A fiber is a component as it stands. */
interface Fiber {
  tag: number;
  flags: number;
  child: Fiber | null;
  sibling: Fiber | null;
  alternate: Fiber | null;
  type: { name?: string } | null;
}

interface CountingWindow {
  /** Names of the components that ran, since it was emptied. */
  rendered: string[];
}

/** Counts the components that run: in the place of the developer tools, which the page has none of. */
function installCounter(): void {
  const counting = window as unknown as CountingWindow;
  counting.rendered = [];
  /** Function components, plain and wrapped. */
  const FUNCTIONS = [0, 11, 15];
  const RAN = 1;
  const walk = (fiber: Fiber | null): void => {
    for (let at = fiber; at; at = at.sibling) {
      const before = at.alternate;
      if (FUNCTIONS.includes(at.tag) && at.flags & RAN) counting.rendered.push(at.type?.name ?? 'unnamed');
      // The same children as before: nothing below ran.
      if (!before || before.child !== at.child) walk(at.child);
    }
  };
  Object.assign(window, {
    __REACT_DEVTOOLS_GLOBAL_HOOK__: {
      supportsFiber: true,
      inject: () => 1,
      onCommitFiberUnmount: () => {},
      onCommitFiberRoot: (_id: number, root: { current: Fiber }) => walk(root.current.child),
    },
  });
}

describe('while a stroke is painted', () => {
  let stage: Stage;
  let page: Page & { faults: string[] };

  before(async () => {
    stage = await openStage();
    page = await openPage(stage);
    // The compiler wraps named functions in a helper of its own, which the page does not have.
    await page.addInitScript('window.__name = (named) => named');
    await page.addInitScript(installCounter);
    await page.reload();
    await openDemo(page);
    await page.keyboard.press('4');
    await page.getByRole('radio', { name: 'bind pose' }).click();
    // Trials, checks and saves of the opening are over.
    await page.waitForTimeout(4000);
  });

  after(() => stage?.close());

  /** The page's place of the front of the poncho. */
  const findMiddle = async (): Promise<{ x: number; y: number }> => {
    const box = (await page.getByRole('img', { name: 'The character' }).boundingBox())!;
    return { x: box.x + box.width / 2, y: box.y + 0.4 * box.height };
  };
  const takeRendered = () =>
    page.evaluate(() => {
      const counting = window as unknown as CountingWindow;
      return counting.rendered.splice(0);
    });

  it('one component renders with each dab: the number under the cursor', async () => {
    const { x, y } = await findMiddle();
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 8, y);
    // While nothing is painted: the solver's numbers come twice a second, and a save begins and ends.
    await page.waitForTimeout(100);
    await takeRendered();
    await page.waitForTimeout(1800);
    const byThemselves = new Set(await takeRendered());
    const before = await inspect(page, ({ workbench }) => workbench.editor.revision);
    const perMove: string[][] = [];
    for (let step = 2; step < 10; step++) {
      await page.mouse.move(x + 8 * step, y + (step % 2));
      await page.waitForTimeout(15);
      perMove.push(await takeRendered());
    }
    const dabs = (await inspect(page, ({ workbench }) => workbench.editor.revision)) - before;
    expect(dabs).above(4);
    const ofTheDabs = perMove.map((names) => names.filter((name) => !byThemselves.has(name)));
    for (const names of ofTheDabs) expect(names, JSON.stringify(perMove)).deep.equal([ofTheDabs[0]![0]]);
    await page.mouse.up();
    await page.waitForTimeout(400);
    // The whole is shown when the stroke is done.
    expect((await takeRendered()).length).above(3);
  });

  it('a dab is one change and one message, and takes less than four milliseconds of the page', async () => {
    const cost = await inspect(page, ({ workbench }) => {
      const { editor, reach } = workbench;
      const painted = reach.ensure('maxDistance')!;
      let [diffs, messages] = [0, 0];
      editor.onDiff(() => diffs++);
      const { postMessage } = Worker.prototype;
      Worker.prototype.postMessage = function (this: Worker, ...given: [never]) {
        messages++;
        postMessage.apply(this, given);
      };
      const count = 60;
      const times: number[] = [];
      editor.beginStroke();
      for (let dab = 0; dab < count; dab++) {
        const indices = Uint32Array.from(
          { length: 40 },
          (_, k) => (dab * 7 + k) % painted.values.length,
        ).sort();
        const unique = Uint32Array.from(new Set(indices));
        const before = Float32Array.from(unique, (index) => painted.values[index]!);
        const start = performance.now();
        editor.paint('dab', painted.map.id, {
          indices: unique,
          before,
          after: before.map((value) => value + 0.001),
        });
        times.push(performance.now() - start);
      }
      editor.endStroke();
      Worker.prototype.postMessage = postMessage;
      times.sort((p, q) => p - q);
      return { diffs: diffs / count, messages: messages / count, median: times[count / 2]! };
    });
    expect(cost.diffs).equal(1);
    expect(cost.messages).equal(1);
    expect(cost.median).below(4);
    expect(page.faults).deep.equal([]);
  });
});
