import { expect } from 'chai';
import { DrawClock } from './draw-clock.ts';

/** A page whose drawings keep its processors so long, ms: the next animation frame comes when they are done. */
class SlowPage {
  now = 0;
  #drawMs: number;
  #callback: (() => void) | null = null;
  #isDrawn = false;
  readonly #kept = {
    request: globalThis.requestAnimationFrame,
    cancel: globalThis.cancelAnimationFrame,
    now: performance.now,
  };

  constructor(drawMs: number) {
    this.#drawMs = drawMs;
    globalThis.requestAnimationFrame = (callback) => {
      this.#callback = () => callback(this.now);
      return 1;
    };
    globalThis.cancelAnimationFrame = () => {
      this.#callback = null;
    };
    performance.now = () => this.now;
  }

  draw = (): void => {
    this.#isDrawn = true;
  };

  /** Drawings in a second in which something changes with each animation frame. */
  countDrawings(clock: DrawClock): number {
    let count = 0;
    for (const end = this.now + 1000; this.now < end; ) {
      this.#isDrawn = false;
      clock.ask();
      this.#callback?.();
      if (this.#isDrawn) count++;
      this.now += Math.max(1000 / 60, this.#isDrawn ? this.#drawMs : 0);
    }
    return count;
  }

  leave(): void {
    globalThis.requestAnimationFrame = this.#kept.request;
    globalThis.cancelAnimationFrame = this.#kept.cancel;
    performance.now = this.#kept.now;
  }
}

describe('when to draw', () => {
  let page: SlowPage;
  const openPage = (drawMs: number): DrawClock => {
    page = new SlowPage(drawMs);
    return new DrawClock(() => {}, page.draw);
  };
  afterEach(() => page.leave());

  it('is with every animation frame where drawing is quick, whatever the solver does', () => {
    const clock = openPage(2);
    expect(page.countDrawings(clock)).within(58, 62);
    clock.giveWay(0);
    expect(page.countDrawings(clock)).within(58, 62);
  });

  it('leaves half of the time to others where drawing is slow, and more when the solver has to skip frames', () => {
    const clock = openPage(50);
    page.countDrawings(clock);
    const before = page.countDrawings(clock);
    expect(before).within(8, 11);
    for (let i = 0; i < 3; i++) clock.giveWay(4);
    const during = page.countDrawings(clock);
    expect(during).within(2, 0.6 * before);
    for (let i = 0; i < 20; i++) clock.giveWay(4);
    expect(page.countDrawings(clock)).at.least(2);
    for (let i = 0; i < 60; i++) clock.giveWay(0);
    page.countDrawings(clock);
    expect(page.countDrawings(clock)).within(8, 11);
  });
});
