/** How far an arrow key moves it, px: at a press, with Shift, and at most while the key stays down. */
const STEP = 6;
const LONG_STEP = 40;
const LONGEST_STEP = 20;
const QUICKENS = 1.15;

const WAYS: Readonly<Record<string, readonly [x: number, y: number] | undefined>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * A pointer that is moved with the arrow keys and pressed with Enter, as long as Enter is down: whatever the mouse does in the viewport
 * (paint, pick, drag a body) is done with it, too. Escape puts it away.
 */
export class KeyPointer {
  readonly #container: HTMLElement;
  readonly #mark = createMark();
  /** From the container's corner, px; null before it was shown. */
  #at: [number, number] | null = null;
  #step = STEP;
  #isPressed = false;
  #isOn = false;

  constructor(container: HTMLElement) {
    this.#container = container;
    container.tabIndex = -1;
    container.style.outline = 'none';
    container.addEventListener('keydown', this.#press);
    container.addEventListener('keyup', this.#lift);
    container.addEventListener('blur', this.stop);
  }

  get isOn(): boolean {
    return this.#isOn;
  }

  /** Shows it where it was last, or in the middle. */
  start(): void {
    if (this.#isOn) return;
    const { clientWidth, clientHeight } = this.#container;
    this.#at ??= [clientWidth / 2, clientHeight / 2];
    this.#isOn = true;
    this.#container.append(this.#mark);
    this.#container.focus();
    this.#moveBy(0, 0);
  }

  readonly stop = (): void => {
    if (!this.#isOn) return;
    this.#release();
    this.#isOn = false;
    this.#mark.remove();
    this.#send('pointerleave');
    this.#container.blur();
  };

  dispose(): void {
    this.stop();
    this.#container.removeEventListener('keydown', this.#press);
    this.#container.removeEventListener('keyup', this.#lift);
    this.#container.removeEventListener('blur', this.stop);
  }

  readonly #press = (event: KeyboardEvent): void => {
    if (!this.#isOn) return;
    const way = WAYS[event.key];
    if (way) {
      this.#step = event.repeat ? Math.min(LONGEST_STEP, this.#step * QUICKENS) : STEP;
      const step = event.shiftKey ? LONG_STEP : this.#step;
      this.#moveBy(step * way[0], step * way[1]);
    } else if (event.key === 'Escape') this.stop();
    else if (event.key === 'Enter') {
      if (!event.repeat && !this.#isPressed) {
        this.#isPressed = true;
        this.#mark.dataset.pressed = '';
        this.#send('pointerdown', event);
      }
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  readonly #lift = (event: KeyboardEvent): void => {
    if (event.key === 'Enter') this.#release(event);
  };

  #release(event?: KeyboardEvent): void {
    if (!this.#isPressed) return;
    this.#isPressed = false;
    delete this.#mark.dataset.pressed;
    this.#send('pointerup', event);
  }

  #moveBy(x: number, y: number): void {
    const { clientWidth, clientHeight } = this.#container;
    const [fromX, fromY] = this.#at!;
    this.#at = [
      Math.min(clientWidth - 1, Math.max(0, fromX + x)),
      Math.min(clientHeight - 1, Math.max(0, fromY + y)),
    ];
    this.#mark.style.translate = `${this.#at[0]}px ${this.#at[1]}px`;
    this.#send('pointermove');
  }

  #send(
    kind: string,
    { shiftKey = false, altKey = false, ctrlKey = false }: Partial<KeyboardEvent> = {},
  ): void {
    const { left, top } = this.#container.getBoundingClientRect();
    this.#container.dispatchEvent(
      new PointerEvent(kind, {
        clientX: left + this.#at![0],
        clientY: top + this.#at![1],
        button: kind === 'pointermove' ? -1 : 0,
        buttons: this.#isPressed ? 1 : 0,
        pressure: this.#isPressed ? 0.5 : 0,
        pointerType: 'mouse',
        shiftKey,
        altKey,
        ctrlKey,
      }),
    );
  }
}

function createMark(): HTMLElement {
  const mark = document.createElement('div');
  mark.className = 'key-pointer';
  mark.setAttribute('aria-hidden', 'true');
  return mark;
}
