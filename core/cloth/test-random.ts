import type { CollisionShape } from '../bodies/index.ts';
import { createRandom } from '../math/index.ts';
import type { ClothSolver, Pull } from './cloth-solver.ts';
import { FABRIC_KEYS } from './fabric.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { FABRIC_PARAMETERS } from './fabric-parameters.ts';
import { createSheet } from './test-cloth.ts';
import { BARE, FRAME, hang, NO_BODIES, poseShapes, type Sheet, type SolverName } from './test-hang.ts';
import { computeWindAt, STILL_AIR, type WindSettings } from './wind.ts';

/** What a scene for comparing the solvers may have. */
export const FEATURES = [
  'threads',
  'compression',
  'bend',
  'folds that yield',
  'thread damping',
  'tethers',
  'max distance',
  'inward limit',
  'lining',
  'round bodies',
  'hulls',
  'planes',
  'self-collision',
  'another surface',
  'wind',
  'a pulling hand',
  'scales',
] as const;
export type Feature = (typeof FEATURES)[number];

export interface RandomScene {
  sheet: Sheet;
  fabric: FabricSettings;
  create(name: SolverName): ClothSolver;
  /** One frame of the scene's own motion. */
  step(solver: ClothSolver, frame: number): void;
}

/** A garment of random form with random settings, in a random motion; the same for the same seed. */
export function createRandomScene(seed: number, features: ReadonlySet<Feature>): RandomScene {
  const random = createRandom(seed);
  const between = (low: number, high: number): number => low + (high - low) * random();
  const has = (feature: Feature): boolean => features.has(feature);
  const sheet = createGarmentSheet(seed, between);
  const fabric: FabricSettings = {
    ...BARE,
    density: between(0.1, 0.6),
    damping: between(2, 4),
    substepsPerSecond: 60 * Math.round(between(2, 6)),
    iterations: Math.round(between(1, 2)),
    friction: between(0, 1),
    ...(has('threads') && {
      stretchWarp: between(500, 4000),
      stretchWeft: between(200, 4000),
      shearStiffness: between(50, 2000),
    }),
    ...(has('compression') && { compressionRange: between(0.02, 0.4) }),
    ...(has('bend') && { bendStiffness: 10 ** between(-6, -3), foldMemory: between(0, 1) }),
    ...(has('folds that yield') && { bendStiffness: 1e-4, plasticYieldAngle: between(0.1, 1) }),
    ...(has('thread damping') && { edgeDamping: between(0.1, 5) }),
    ...(has('tethers') && { stretchCap: between(1, 1.1) }),
    ...(has('self-collision') && { selfDistance: between(0.012, 0.03) }),
    ...(has('another surface') && { layerMargin: between(0.003, 0.01) }),
    ...(has('wind') && { airDrag: between(0.5, 2), airLift: between(0, 2) }),
    ...((has('round bodies') || has('hulls') || has('planes')) && { thickness: between(0.002, 0.01) }),
  };
  const under = createSheet(6, 6, (u, v) => [1.2 * u - 0.6, -0.25, 1.2 * v - 0.6]);
  const isHeld = (y: number): boolean => y > -0.02;
  const most = has('max distance') ? between(0.05, 0.3) : 1e6;
  const shapes = listShapes(has, between);
  const wind: WindSettings = {
    windSpeed: between(2, 8),
    windDirection: between(-180, 180),
    windGusts: random(),
    windTurbulence: random(),
  };
  const sway = between(0.02, 0.06);
  return {
    sheet,
    fabric,
    create: (name) => {
      const surfaces = has('another surface')
        ? [{ pointCount: 49, triangles: under.triangles, spacing: 0.2 }]
        : [];
      const solver = hang(name, sheet, fabric, (_x, y) => (isHeld(y) ? 0 : most), { surfaces });
      const { pointCount } = solver.garment;
      if (has('inward limit')) {
        solver.setInwardLimits(
          new Float32Array(pointCount).fill(0.01),
          new Float32Array(pointCount).fill(0.3),
        );
      }
      if (has('scales')) {
        const ofPoints = (step: number): Float32Array =>
          Float32Array.from({ length: pointCount }, (_, i) => ((step * i) % 11) / 5);
        solver.setScales({ stiffness: ofPoints(3), damping: ofPoints(4), drag: ofPoints(7) });
      }
      if (has('lining')) {
        solver.setLining(Uint8Array.from({ length: pointCount }, (_, i) => (i % 37 === 0 ? 1 : 0)));
      }
      return solver;
    },
    step: (solver, frame) => {
      const targets = solver.garment.restPositions.slice();
      for (let i = 0; i < targets.length; i += 4) {
        targets[i] = targets[i]! + sway * Math.sin(0.15 * frame);
        targets[i + 2] = targets[i + 2]! + sway * (1 - Math.cos(0.1 * frame));
      }
      if (has('a pulling hand')) solver.setPull(frame < 30 ? createPull(solver) : null);
      const positions = new Float32Array(4 * 49);
      for (let p = 0; p < 49; p++) {
        const height = 0.1 * Math.sin(0.1 * frame) + 0.03 * Math.sin(p);
        positions.set(
          [under.positions[3 * p]!, under.positions[3 * p + 1]! + height, under.positions[3 * p + 2]!],
          4 * p,
        );
      }
      const [c, s] = [Math.cos(0.05 * frame), Math.sin(0.05 * frame)];
      const world = Float64Array.of(c, 0, -s, 0, 0, 1, 0, 0, s, 0, c, 0, 0, 0.03 * s, -0.08 * s, 1);
      solver.step(FRAME, targets, {
        wind: has('wind') ? computeWindAt(wind, frame * FRAME) : STILL_AIR,
        bodies: shapes.length > 0 ? poseShapes(shapes, world) : NO_BODIES,
        surfaces: [positions],
      });
    },
  };
}

/** A wavy sheet or a tube, hung by its upper border, with UVs turned by some angle. */
function createGarmentSheet(seed: number, between: (low: number, high: number) => number): Sheet {
  const [columns, rows] = [Math.round(between(10, 16)), Math.round(between(8, 14))];
  const [width, height, wave] = [between(0.4, 0.8), between(0.3, 0.6), between(0, 0.03)];
  const sheet = createSheet(columns, rows, (u, v) => {
    const ripple = wave * Math.sin(12 * u + 5 * v);
    if (seed % 2 === 0) return [width * (u - 0.5), -height * v, ripple];
    // Closed when welded: the seam is one place.
    const angle = u === 1 ? 0 : 2 * Math.PI * u;
    const radius = 0.16 + 0.08 * v + (u === 1 || u === 0 ? 0 : ripple);
    return [radius * Math.cos(angle), -height * v, radius * Math.sin(angle)];
  });
  const turn = between(0, 3);
  const uvs = new Float32Array((sheet.positions.length / 3) * 2);
  for (let v = 0; v < uvs.length / 2; v++) {
    const [c, r] = [v % (columns + 1), Math.floor(v / (columns + 1))];
    const [x, y] = [c / columns, r / rows];
    uvs.set([x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)], 2 * v);
  }
  return { ...sheet, uvs };
}

function listShapes(
  has: (feature: Feature) => boolean,
  between: (low: number, high: number) => number,
): CollisionShape[] {
  const shapes: CollisionShape[] = [];
  const at = (y: number): [number, number, number] => [between(-0.1, 0.1), y, between(0.14, 0.2)];
  if (has('round bodies')) {
    const one = { node: 0, radiusA: between(0.05, 0.1), radiusB: between(0.03, 0.07) };
    shapes.push(
      { kind: 'sphere', ...one, a: at(-0.1), b: [0, 0, 0] },
      { kind: 'capsule', ...one, a: at(-0.3), b: at(-0.2) },
      { kind: 'taperedCapsule', ...one, a: [-0.15, -0.25, 0.16], b: [0.15, -0.2, 0.19] },
    );
  }
  if (has('hulls')) {
    const points = Float32Array.from(
      { length: 36 },
      (_, i) => between(-0.08, 0.08) + [0.05, -0.2, 0.18][i % 3]!,
    );
    shapes.push(
      { kind: 'hull', node: 0, points },
      {
        kind: 'box',
        node: 0,
        centre: [-0.1, -0.2, 0.16],
        rotation: [0, Math.sin(0.3), 0, Math.cos(0.3)],
        halfSize: [0.06, 0.08, 0.05],
      },
    );
  }
  if (has('planes')) shapes.push({ kind: 'plane', node: 0, point: [0, -0.35, 0], normal: [0, 1, 0] });
  return shapes;
}

function createPull(solver: ClothSolver): Pull {
  const point = Math.floor(0.7 * solver.garment.pointCount);
  const [x, y, z] = [0, 1, 2].map((k) => solver.garment.restPositions[4 * point + k]!) as [
    number,
    number,
    number,
  ];
  return { points: [{ point, position: [x + 0.02, y + 0.02, z + 0.04], strength: 0.1 }] };
}

/** Settings anywhere within the ranges of the interface. */
export function createWildFabric(random: () => number): FabricSettings {
  return Object.fromEntries(
    FABRIC_KEYS.map((key) => {
      const { range, isCount, isLogarithmic } = FABRIC_PARAMETERS[key];
      const [low, high] = range;
      const share = random() < 0.2 ? Math.round(random()) : random();
      const least = Math.max(low, high * 1e-6);
      const value = isLogarithmic && share > 0 ? least * (high / least) ** share : low + (high - low) * share;
      return [key, isCount ? Math.round(value) : value];
    }),
  ) as unknown as FabricSettings;
}
