import { expect } from 'chai';
import { Matrix4, PerspectiveCamera, Vector3 } from 'three';
import { createRandom } from '../../core/math/index.ts';
import { ScreenSpacing, type ScreenView } from './screen-spacing.ts';
import { Whiskers } from './whiskers.ts';

const SIZE = { width: 800, height: 600 };

/** A ball of 0.4 m about (0, 1, 0), seen from around it at a height of 1.2 m. */
function look(angle: number, distance = 2): ScreenView {
  const camera = new PerspectiveCamera(26, SIZE.width / SIZE.height, 0.05, 60);
  camera.position.set(distance * Math.sin(angle), 1.2, distance * Math.cos(angle));
  camera.lookAt(new Vector3(0, 1, 0));
  camera.updateMatrixWorld();
  const matrix = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).elements;
  return { matrix, eye: camera.position.toArray() as [number, number, number], ...SIZE };
}

/** Crowded on one side, as meshes are. */
function createBall(count: number, seed: number): { positions: Float32Array; normals: Float32Array } {
  const random = createRandom(seed);
  const normals = new Float32Array(3 * count);
  for (let p = 0; p < count; p++) {
    const n = new Vector3(random() - 0.5, random() - 0.5, random() ** 3 - 0.2).normalize();
    normals.set(n.toArray(), 3 * p);
  }
  return { normals, positions: normals.map((value, i) => 0.4 * value + (i % 3 === 1 ? 1 : 0)) };
}

describe('marks that are spread over the screen', () => {
  const ball = createBall(9000, 3);
  const all = Uint32Array.from({ length: 9000 }, (_, p) => p);
  /** Places on the screen by another route than the one that is tested: three's own projection. [p, 2] */
  const project = (view: ScreenView): Float32Array => {
    const matrix = new Matrix4().fromArray([...(view.matrix as number[])]);
    const screen = new Float32Array(2 * 9000);
    for (const p of all) {
      const at = new Vector3().fromArray(ball.positions, 3 * p).applyMatrix4(matrix);
      screen.set([(0.5 + 0.5 * at.x) * view.width, (0.5 - 0.5 * at.y) * view.height], 2 * p);
    }
    return screen;
  };
  /** From a point to the nearest of some others, pixels. */
  const findNearest = (screen: Float32Array, p: number, others: readonly number[]): number => {
    let least = Number.POSITIVE_INFINITY;
    for (const other of others) {
      if (other === p) continue;
      const [x, y] = [screen[2 * other]! - screen[2 * p]!, screen[2 * other + 1]! - screen[2 * p + 1]!];
      least = Math.min(least, Math.sqrt(x * x + y * y));
    }
    return least;
  };
  const isFacing = (p: number, { eye }: ScreenView): boolean =>
    new Vector3(...eye)
      .sub(new Vector3().fromArray(ball.positions, 3 * p))
      .dot(new Vector3().fromArray(ball.normals, 3 * p)) > 0;
  for (const zoom of [4, 2, 0.9]) {
    it(`keep 10 pixels apart and leave no room unused, from ${zoom} m`, () => {
      const spacing = new ScreenSpacing(10);
      spacing.setCandidates(all, 9000);
      const view = look(0.3, zoom);
      const chosen = [...spacing.choose(ball.positions, ball.normals, view)];
      expect(chosen.length).above(50);
      const screen = project(view);
      const isInPicture = (p: number): boolean =>
        Math.abs(screen[2 * p]! - SIZE.width / 2) < SIZE.width / 2 &&
        Math.abs(screen[2 * p + 1]! - SIZE.height / 2) < SIZE.height / 2;
      expect(Math.min(...chosen.map((p) => findNearest(screen, p, chosen)))).at.least(9.999);
      expect(chosen.every((p) => isFacing(p, view))).equal(true);
      const others = [...all].filter((p) => isFacing(p, view) && isInPicture(p) && !chosen.includes(p));
      expect(Math.max(...others.map((p) => findNearest(screen, p, chosen)))).below(12.501);
    });
  }

  it('stay where they are while the view turns a little, and keep apart all the while', () => {
    const spacing = new ScreenSpacing(10);
    spacing.setCandidates(all, 9000);
    let before = new Set(spacing.choose(ball.positions, ball.normals, look(0)));
    for (let step = 1; step <= 10; step++) {
      const view = look(0.005 * step);
      const now = [...spacing.choose(ball.positions, ball.normals, view)];
      const stayed = now.filter((p) => before.has(p)).length;
      expect(stayed / before.size).above(0.93);
      const screen = project(view);
      expect(Math.min(...now.map((p) => findNearest(screen, p, now)))).at.least(9.999);
      before = new Set(now);
    }
  });

  it('go when they are candidates no longer', () => {
    const spacing = new ScreenSpacing(10);
    spacing.setCandidates(all, 9000);
    spacing.choose(ball.positions, ball.normals, look(0));
    const few = all.filter((p) => p % 40 === 0);
    spacing.setCandidates(few, 9000);
    const chosen = spacing.choose(ball.positions, ball.normals, look(0));
    expect(chosen.length).above(10);
    expect([...chosen].every((p) => p % 40 === 0)).equal(true);
    spacing.setCandidates([], 9000);
    expect(spacing.choose(ball.positions, ball.normals, look(0)).length).equal(0);
  });

  it('are whiskers as long as their points may go, more of them from nearby', () => {
    const whiskers = new Whiskers(9000);
    const maxDistances = Float32Array.from(all, (p) => (p % 3 === 0 ? 0 : 0.05 + 0.00001 * p));
    whiskers.setMaxDistances(maxDistances);
    const targets = Float32Array.from({ length: 36_000 }, (_, i) =>
      i % 4 === 3 ? 0 : ball.positions[3 * Math.floor(i / 4) + (i % 4)]!,
    );
    const state = { targets, normals: ball.normals, maxDistances, legendTop: 0.2 };
    const far = whiskers.update(state, look(0, 6));
    const near = whiskers.update(state, look(0, 1.2));
    expect(near).above(2 * far);
    const { position } = whiskers.lines.geometry.attributes;
    const ends = (i: number): Vector3 => new Vector3().fromBufferAttribute(position as never, i);
    const lengths = new Set([...maxDistances].map((value) => value.toFixed(5)));
    for (let i = 0; i < near; i++) {
      const length = ends(2 * i).distanceTo(ends(2 * i + 1));
      expect(length).above(0.04);
      expect(lengths.has(length.toFixed(5)), String(length)).equal(true);
    }
    whiskers.dispose();
  });
});
