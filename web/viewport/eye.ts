import { Matrix4, MOUSE, PerspectiveCamera, type Ray, Raycaster, Spherical, Vector2, Vector3 } from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { ScreenView } from './screen-spacing.ts';

const FIELD_OF_VIEW = 26;

type Position = readonly [number, number, number];

/** Where the viewer looks from: the camera, what turns it, and what is where on the screen. */
export class Eye {
  readonly camera = new PerspectiveCamera(FIELD_OF_VIEW, 1, 0.05, 60);
  readonly #container: HTMLElement;
  readonly #controls: OrbitControls;

  /** @param onChange - Called when the view is another. */
  constructor(container: HTMLElement, canvas: HTMLElement, onChange: () => void) {
    this.#container = container;
    this.#controls = new OrbitControls(this.camera, canvas);
    this.#controls.mouseButtons = { LEFT: MOUSE.ROTATE, RIGHT: MOUSE.PAN };
    this.#controls.zoomSpeed = 1.2;
    this.#controls.minDistance = 0.2;
    this.#controls.maxDistance = 30;
    this.#controls.enableDamping = false;
    this.#controls.addEventListener('change', onChange);
  }

  /** Sets how near and how far it sees and goes, by how large what it looks at is. @param size - m. */
  setScale(size: number): void {
    this.camera.near = 0.027 * size;
    this.camera.far = 40 * size;
    this.camera.updateProjectionMatrix();
    this.#controls.minDistance = 0.11 * size;
    this.#controls.maxDistance = 16 * size;
  }

  /** Whether dragging turns the view. */
  set isTurnedByDragging(isOn: boolean) {
    this.#controls.enabled = isOn;
  }

  /** Angle about the vertical that it looks along, rad: 0 is +Z, π/2 is +X. */
  get heading(): number {
    const facing = this.camera.getWorldDirection(new Vector3());
    return Math.atan2(facing.x, facing.z);
  }

  /** Share of the picture's height that something takes where the eye looks. @param height - m. */
  tellShare(height: number): number {
    const distance = this.camera.position.distanceTo(this.#controls.target);
    return height / (2 * distance * Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
  }

  /** @returns Whether it had none before. */
  setSize(width: number, height: number): boolean {
    const isFirst = this.camera.aspect === 1;
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    return isFirst;
  }

  /** Looks at a ball. @param from - Direction in which to stand; without it the present one. */
  lookAt(
    target: Vector3,
    radius: number,
    from = this.camera.position.clone().sub(this.#controls.target),
  ): void {
    const half = Math.atan(Math.tan((FIELD_OF_VIEW * Math.PI) / 360) * Math.min(1, this.camera.aspect || 1));
    this.#controls.target.copy(target);
    this.camera.position.copy(target).addScaledVector(from.normalize(), (1.06 * radius) / Math.sin(half));
    this.#controls.update();
  }

  /** Turns about what it looks at. @param around, up - rad. */
  turn(around: number, up: number): void {
    const { target } = this.#controls;
    const seen = new Spherical().setFromVector3(this.camera.position.clone().sub(target));
    seen.theta -= around;
    seen.phi -= up;
    this.camera.position.copy(target).add(new Vector3().setFromSpherical(seen.makeSafe()));
    this.#controls.update();
  }

  /** Looks from where another looks, from now on. @returns Stops it. */
  follow(other: Eye, onChange: () => void): () => void {
    const copy = (): void => {
      const [mine, theirs] = [this.#controls.target, other.#controls.target];
      if (this.camera.position.equals(other.camera.position) && mine.equals(theirs)) return;
      this.camera.position.copy(other.camera.position);
      mine.copy(theirs);
      this.#controls.update();
      onChange();
    };
    other.#controls.addEventListener('change', copy);
    return () => other.#controls.removeEventListener('change', copy);
  }

  /** Where a world place is on the canvas, in CSS pixels. */
  project(position: Position): [number, number] {
    const p = new Vector3(...position).project(this.camera);
    return [((p.x + 1) / 2) * this.#container.clientWidth, ((1 - p.y) / 2) * this.#container.clientHeight];
  }

  /** The ray through a place of the page, in CSS pixels. */
  castFrom({ clientX, clientY }: Pick<PointerEvent, 'clientX' | 'clientY'>): Ray {
    const box = this.#container.getBoundingClientRect();
    const caster = new Raycaster();
    const x = ((clientX - box.left) / box.width) * 2 - 1;
    const y = 1 - ((clientY - box.top) / box.height) * 2;
    caster.setFromCamera(new Vector2(x, y), this.camera);
    return caster.ray;
  }

  getScreenView(): ScreenView {
    this.camera.updateMatrixWorld();
    const { clientWidth: width, clientHeight: height } = this.#container;
    const { projectionMatrix, matrixWorldInverse, position } = this.camera;
    const matrix = new Matrix4().multiplyMatrices(projectionMatrix, matrixWorldInverse).elements;
    return { matrix, eye: [position.x, position.y, position.z], width, height };
  }

  dispose(): void {
    this.#controls.dispose();
  }
}
