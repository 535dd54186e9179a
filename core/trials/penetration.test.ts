import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import { createRandom } from '../math/index.ts';
import { createCube } from '../mesh/test-surfaces.ts';
import { type Character, Pose } from '../rig/index.ts';
import type { ClothSurface, ClothSurfaces } from './cloth-surfaces.ts';
import { PenetrationMeasure } from './penetration.ts';
import { PosedSkin } from './skin/posed-skin.ts';
import { createBall } from './test-scene.ts';

type Vector = [number, number, number];

interface Solid {
  mesh: [Float32Array, Uint32Array];
  /** How deep a place lies in it, m; below 0 outside. */
  measureDepth(place: Vector): number;
}

/** A ball and a cube in the middle of all. */
function createSolid(kind: 'ball' | 'cube', size: number): Solid {
  if (kind === 'ball')
    return { mesh: createBall(size), measureDepth: (place) => size - Math.hypot(...place) };
  const { positions, triangles } = createCube();
  return {
    mesh: [positions.map((value) => size * value), triangles],
    measureDepth: (place) => size - Math.max(...place.map(Math.abs)),
  };
}

/** A sheet of triangles of some size, and what puts it elsewhere. */
function createCloth(spacing: number): {
  surface: ClothSurface;
  put: (origin: Vector, u: Vector, v: Vector) => void;
} {
  const { positions, triangles } = createSheet(8, 8, (u, v) => [u, v, 0]);
  const count = positions.length / 3;
  const points = Uint32Array.from({ length: count }, (_, p) => p);
  const surface: ClothSurface = {
    garment: 0,
    positions: new Float32Array(positions.length),
    stride: 3,
    points,
    triangles,
    welded: points,
  };
  const put = (origin: Vector, u: Vector, v: Vector): void => {
    for (let p = 0; p < count; p++) {
      const [s, t] = [8 * spacing * (positions[3 * p]! - 0.5), 8 * spacing * (positions[3 * p + 1]! - 0.5)];
      for (let k = 0; k < 3; k++) surface.positions[3 * p + k] = origin[k]! + s * u[k]! + t * v[k]!;
    }
  };
  return { surface, put };
}

function follow(skin: PosedSkin, character: Character): void {
  const identity = Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  skin.follow(new Pose(character), [identity], [[-1, -1, -1, 1, 1, 1]]);
}

/** The deepest of many places between the corners of a triangle. */
function findDeepest({ measureDepth }: Solid, { positions, triangles }: ClothSurface, t: number): number {
  let most = Number.NEGATIVE_INFINITY;
  for (let i = 0; i <= 12; i++) {
    for (let j = 0; i + j <= 12; j++) {
      const shares = [i / 12, j / 12, 1 - (i + j) / 12];
      const place = [0, 1, 2].map((k) =>
        shares.reduce((sum, share, c) => sum + share * positions[3 * triangles[3 * t + c]! + k]!, 0),
      );
      most = Math.max(most, measureDepth(place as Vector));
    }
  }
  return most;
}

function turnAtRandom(random: () => number): [Vector, Vector, Vector] {
  const draw = (): Vector => [random() - 0.5, random() - 0.5, random() - 0.5];
  const scale = (a: Vector, s: number): Vector => [s * a[0], s * a[1], s * a[2]];
  const cross = (a: Vector, b: Vector): Vector => [
    a[1] * b[2] - a[2] * b[1],
    a[2] * b[0] - a[0] * b[2],
    a[0] * b[1] - a[1] * b[0],
  ];
  const unit = (a: Vector): Vector => scale(a, 1 / Math.hypot(...a));
  const u = unit(draw());
  const w = unit(cross(u, draw()));
  return [u, unit(cross(w, u)), w];
}

describe('penetration', () => {
  // Larger triangles than the solid, and smaller; round, and with sharp edges.
  for (const [kind, size, spacing] of [
    ['ball', 0.012, 0.03],
    ['ball', 0.03, 0.03],
    ['ball', 0.12, 0.03],
    ['ball', 0.12, 0.015],
    ['cube', 0.1, 0.03],
    ['cube', 0.03, 0.05],
    // All corners out of touch, and the solid between them.
    ['ball', 0.03, 0.1],
    ['cube', 0.05, 0.12],
  ] as const) {
    it(`is looked for in each triangle of ${100 * spacing} cm that a ${kind} of ${100 * size} cm comes through`, () => {
      const solid = createSolid(kind, size);
      const character = createTestCharacter(...solid.mesh);
      const skin = new PosedSkin(character, [0]);
      follow(skin, character);
      const { surface, put } = createCloth(spacing);
      const surfaces = { surfaces: [surface] } as unknown as ClothSurfaces;
      const random = createRandom(7);
      let [crossed, missed, marked, all] = [0, 0, 0, 0];
      for (let trial = 0; trial < 150; trial++) {
        const [u, v, w] = turnAtRandom(random);
        // Anywhere from the middle to out of touch; on a cube's edges above all.
        const away = size * (1.8 * random());
        const [s, t] = [spacing * random(), spacing * random()];
        const origin = [0, 1, 2].map((k) => away * w[k]! + s * u[k]! + t * v[k]!) as Vector;
        put(origin, u, v);
        const measure = new PenetrationMeasure(skin, surfaces);
        // The first look is at all there is; later ones start from what was near.
        measure.followPoints();
        const near = measure.followPoints()[0]!;
        for (let t = 0; t < near.length; t++) {
          all++;
          marked += near[t]!;
          if (findDeepest(solid, surface, t) < 0.001) continue;
          crossed++;
          if (near[t] === 0) missed++;
        }
      }
      expect(crossed).above(100);
      expect(missed).equal(0);
      expect(marked).below(Math.max(2 * crossed, 0.9 * all));
    });
  }

  it('is the same in cloth that goes through a body by leaps as in cloth that is put there', () => {
    const solid = createSolid('ball', 0.1);
    const character = createTestCharacter(...solid.mesh);
    const skin = new PosedSkin(character, [0]);
    const { surface, put } = createCloth(0.02);
    const surfaces = { surfaces: [surface] } as unknown as ClothSurfaces;
    const all = [new Uint8Array(surface.triangles.length / 3)];
    for (const step of [0.004, 0.02, 0.045, 0.07]) {
      const followed = new PenetrationMeasure(skin, surfaces);
      let most = 0;
      for (let z = -0.2; z < 0.2; z += step) {
        put([0.01, 0, z], [1, 0, 0], [0, 1, 0]);
        follow(skin, character);
        const put0 = new PenetrationMeasure(skin, surfaces);
        put0.followPoints();
        followed.followPoints();
        const exact = put0.measure(all)[0]!.depth;
        expect(followed.measure(all)[0]!.depth).closeTo(exact, 1e-6);
        most = Math.max(most, exact);
      }
      expect(most).above(0.04);
    }
  });
});
