import { BufferAttribute, BufferGeometry, Group, LineBasicMaterial, LineLoop, Vector3 } from 'three';

/** Rings on the surface under the cursor: the brush's rim, and where it is half as strong; ink beside chalk, seen on any map. */
export class BrushCursor {
  readonly group = new Group();
  readonly #ink = new LineBasicMaterial({ color: '#23262D', depthTest: false, transparent: true });
  readonly #chalk = new LineBasicMaterial({ color: '#FBF8F0', depthTest: false, transparent: true });

  constructor() {
    const points = Float32Array.from({ length: 3 * 48 }, (_, i) => {
      const angle = (2 * Math.PI * Math.floor(i / 3)) / 48;
      return i % 3 === 0 ? Math.cos(angle) : i % 3 === 1 ? Math.sin(angle) : 0;
    });
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(points, 3));
    for (const [scale, material] of [
      [1, this.#ink],
      [1.03, this.#chalk],
      [0.5, this.#ink],
      [0.53, this.#chalk],
      [0.03, this.#chalk],
    ] as const) {
      const ring = new LineLoop(geometry, material);
      ring.scale.setScalar(scale);
      ring.renderOrder = 10;
      this.group.add(ring);
    }
    this.group.visible = false;
  }

  show(
    position: readonly [number, number, number],
    normal: readonly [number, number, number],
    radius: number,
  ): void {
    this.group.visible = true;
    this.group.position.set(...position);
    this.group.scale.setScalar(radius);
    this.group.quaternion.setFromUnitVectors(new Vector3(0, 0, 1), new Vector3(...normal));
  }

  hide(): void {
    this.group.visible = false;
  }

  dispose(): void {
    (this.group.children[0] as LineLoop).geometry.dispose();
    this.#ink.dispose();
    this.#chalk.dispose();
  }
}
