/** A closed line drawn with the pointer over the canvas. */
export class OutlineDrawing {
  readonly #container: HTMLElement;
  readonly #svg: SVGSVGElement;
  readonly #line: SVGPolygonElement;
  #places: number[] = [];

  constructor(container: HTMLElement) {
    this.#container = container;
    const create = <K extends keyof SVGElementTagNameMap>(name: K): SVGElementTagNameMap[K] =>
      document.createElementNS('http://www.w3.org/2000/svg', name);
    this.#svg = create('svg');
    this.#svg.setAttribute('class', 'pointer-events-none absolute inset-0 size-full');
    this.#line = create('polygon');
    for (const [name, value] of Object.entries({
      fill: 'var(--color-teal)',
      'fill-opacity': '0.13',
      stroke: 'var(--color-teal)',
      'stroke-width': '1.5',
      'stroke-dasharray': '5 3',
    }))
      this.#line.setAttribute(name, value);
    this.#svg.append(this.#line);
    container.append(this.#svg);
  }

  /** Width and height that places are counted in. */
  get size(): [number, number] {
    return [this.#container.clientWidth, this.#container.clientHeight];
  }

  begin(event: PointerEvent): void {
    this.#places = [];
    this.extend(event);
  }

  extend({ clientX, clientY }: PointerEvent): void {
    const { left, top } = this.#container.getBoundingClientRect();
    this.#places.push(clientX - left, clientY - top);
    this.#line.setAttribute('points', this.#places.join(' '));
  }

  /** Takes the line away. @returns [n, 2], CSS pixels. */
  end(): number[] {
    const positions = this.#places;
    this.#places = [];
    this.#line.removeAttribute('points');
    return positions;
  }

  dispose(): void {
    this.#svg.remove();
  }
}
