/** A drawing slower than this is the processors' work. */
const SLOW_DRAW_MS = 24;

/**
 * Says when to draw: when something changed, and not faster than the machine can. Without a graphics card the same
 * processors draw and simulate: a drawing that takes long is followed by a rest as long, so that the solver keeps its sixty frames; a
 * fast one is followed by none.
 */
export class DrawClock {
  readonly #look: () => void;
  readonly #draw: () => void;
  #request = 0;
  #isAsked = true;
  #drawnAt = 0;
  #drawMs = 0;
  #isDrawing = false;

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
    const rest = this.#drawMs > SLOW_DRAW_MS ? this.#drawMs : 0;
    return now - this.#drawnAt >= this.#drawMs + rest - 1;
  }
}
