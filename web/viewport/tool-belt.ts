import { stepBrushRadius, stepBrushValue } from '../state/step-brush.ts';
import type { Eye } from './eye.ts';
import type { PaintTool } from './paint-tool.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

export type ToolName = 'pick' | 'weights' | 'fit' | 'reach' | 'points' | 'bodies' | 'fabric';

export interface Tools extends Record<ToolName, PointerTool> {
  reach: PaintTool;
}

/** Gives the pointer and the wheel to the tool of the stage, and what that does not take to the eye. */
export class ToolBelt {
  readonly #source: ViewportSource;
  readonly #container: HTMLElement;
  readonly #eye: Eye;
  readonly #tools: Tools;
  readonly #onUsed: () => void;
  readonly #cleanups: (() => void)[] = [];
  /** The tool that the pointer had last: told when it is another's turn. */
  #active: PointerTool | null = null;
  #isPressed = false;
  #isTurning = false;

  constructor(
    source: ViewportSource,
    { container, eye }: { container: HTMLElement; eye: Eye },
    tools: Tools,
    onUsed: () => void,
  ) {
    this.#source = source;
    this.#container = container;
    this.#eye = eye;
    this.#tools = tools;
    this.#onUsed = onUsed;
    this.#listen();
  }

  get tool(): PointerTool | null {
    const { stage, hand, pick, drapedId } = this.#source.session.state;
    if (stage === 'bodies' && pick) return this.#tools.pick;
    if (stage === 'garment') return this.#tools[drapedId ? 'fabric' : (hand?.kind ?? 'pick')];
    if (stage === 'reach') {
      const tab = this.#source.reach?.store.state.tab;
      return this.#tools[tab === 'points' || tab === 'ramp' ? 'points' : 'reach'];
    }
    return stage === 'bodies' || stage === 'fabric' ? this.#tools[stage] : null;
  }

  /** The stage may be another: the tool from before lets go. */
  followStage(): void {
    const { tool } = this;
    if (tool === this.#active) return;
    this.#active?.leave();
    this.#active = tool;
  }

  /** While it is on, drags turn the view, whatever the tool. */
  setTurning(isTurning: boolean): void {
    this.#isTurning = isTurning;
    this.#container.style.cursor = isTurning ? 'grab' : '';
    if (isTurning && !this.#isPressed) this.tool?.leave();
  }

  /** The brush takes the value under the cursor, see `PaintTool.pickValue`. */
  pickValue(): number | null {
    return this.tool === this.#tools.reach ? this.#tools.reach.pickValue() : null;
  }

  dispose(): void {
    for (const cleanup of this.#cleanups) cleanup();
  }

  #listen(): void {
    const on = <K extends keyof HTMLElementEventMap>(
      kind: K,
      handle: (event: HTMLElementEventMap[K]) => void,
    ): void => {
      // Before the camera controls, which listen on the canvas itself.
      const options = { capture: true, passive: false };
      this.#container.addEventListener(kind, handle, options);
      this.#cleanups.push(() => this.#container.removeEventListener(kind, handle, options));
    };
    on('pointerdown', (event) => this.#press(event));
    on('pointermove', (event) => this.#move(event));
    on('pointerup', (event) => this.#release(event));
    // Capturing the pointer makes it "leave" the canvas inside: only leaving the container counts, and not in a drag.
    on('pointerleave', (event) => {
      if (event.target === this.#container && !this.#isPressed) this.tool?.leave();
    });
    on('wheel', (event) => this.#turnWheel(event));
  }

  #press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const tool = this.#isTurning ? null : this.tool;
    this.#isPressed = tool?.press(this.#eye.castFrom(event), event) ?? false;
    this.#eye.isTurnedByDragging = !this.#isPressed;
    // A pointer that is moved by keys cannot leave.
    if (this.#isPressed && event.isTrusted) this.#container.setPointerCapture(event.pointerId);
    this.#onUsed();
  }

  #move(event: PointerEvent): void {
    if (this.#isTurning && !this.#isPressed) return;
    this.tool?.move(this.#eye.castFrom(event), event, this.#isPressed);
    this.#onUsed();
  }

  #release(event: PointerEvent): void {
    if (!this.#isPressed) return;
    this.#isPressed = false;
    this.#eye.isTurnedByDragging = true;
    this.tool?.release(event);
  }

  /** With Shift the wheel changes the brush's value, with Alt its size; without, it goes nearer. */
  #turnWheel(event: WheelEvent): void {
    const { session } = this.#source;
    if (this.tool !== this.#tools.reach || !(event.shiftKey || event.altKey)) return;
    event.preventDefault();
    event.stopPropagation();
    // With Shift some systems turn the wheel sideways.
    const steps = -Math.sign(event.deltaY || event.deltaX);
    if (event.shiftKey) stepBrushValue(session, steps);
    else stepBrushRadius(session, steps);
    this.#tools.reach.followBrush();
    this.#onUsed();
  }
}
