/** A drawing slower than this is the processors' work. */
const SLOW_DRAW_MS = 24;
/** Rests grow by this factor up to the most each time that the solver had to skip frames, and shrink slowly when it had not. */
const GROWTH = 1.6;
const SHRINKING = 0.95;
const MOST_RESTS = 6;

/**
 * Says when to draw: when something changed, and not faster than the machine can. Without a graphics card the same
 * processors draw and simulate: a drawing that takes long is followed by a rest as long, and longer when the solver cannot keep its sixty
 * frames all the same; a fast one is followed by none.
 */
export class DrawClock {
  readonly #look: () => void;
  readonly #draw: () => void;
  #request = 0;
  #isAsked = true;
  #drawnAt = 0;
  #drawMs = 0;
  #isDrawing = false;
  /** Times a slow drawing. */
  #rests = 1;

  /** @param look - Called with each animation frame, before the drawing; may ask for one. */
  constructor(look: () => void, draw: () => void) {
    this.#look = look;
    this.#draw = draw;
    this.#request = requestAnimationFrame(this.#tick);
  }

  /** Something changed. */
  ask(): void {
    this.#isAsked = true;
  }

  /** @param skippedFrames - That the solver had no time for of late. */
  giveWay(skippedFrames: number): void {
    this.#rests =
      skippedFrames > 0 ? Math.min(MOST_RESTS, GROWTH * this.#rests) : Math.max(1, SHRINKING * this.#rests);
  }

  dispose(): void {
    cancelAnimationFrame(this.#request);
  }

  #tick = (): void => {
    this.#request = requestAnimationFrame(this.#tick);
    this.#look();
    if (!this.#isAsked || !this.#mayDraw()) return;
    this.#isAsked = false;
    this.#draw();
    this.#drawnAt = performance.now();
    this.#isDrawing = true;
  };

  #mayDraw(): boolean {
    const now = performance.now();
    if (this.#isDrawing) {
      // The first animation frame after a drawing comes when it is done.
      this.#drawMs += 0.3 * (now - this.#drawnAt - this.#drawMs);
      this.#isDrawing = false;
    }
    // Others may finish a drawing after the animation frame that follows it.
    const rest = this.#drawMs * this.#rests > SLOW_DRAW_MS ? this.#drawMs * this.#rests : 0;
    return now - this.#drawnAt >= this.#drawMs + rest - 1;
  }
}
