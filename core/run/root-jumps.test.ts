import { expect } from 'chai';
import type { CollisionShape } from '../bodies/index.ts';
import { compileGarment, FABRIC_DEFAULTS, type FabricSettings } from '../cloth/index.ts';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import type { RecordId } from '../document/index.ts';
import { CharacterRun } from './character-run.ts';

const RATE = 60;

/** A box and a ball that a flag lies on, both on the root. */
const BODIES: CollisionShape[] = [
  { kind: 'sphere', node: 0, a: [0.25, 0.7, 0.12], b: [0, 0, 0], radiusA: 0.15, radiusB: 0.15 },
  {
    kind: 'box',
    node: 0,
    centre: [0.25, 0.55, -0.06],
    halfSize: [0.3, 0.05, 0.05],
    rotation: [0, 0, 0, 1],
  },
];

/** A flag on a root that is, frame by frame, at so many metres along x and turned so far about the vertical (rad). */
function createRun(
  places: { x: number; angle: number }[],
  fabric: Partial<FabricSettings>,
  bodies: CollisionShape[] = [],
): CharacterRun {
  const sheet = createSheet(8, 8, (u, v) => [0.5 * u, 1 - 0.5 * v, 0]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  const times = Float32Array.from(places, (_, i) => i / RATE);
  character.clips.push({
    name: 'jump',
    duration: (places.length - 1) / RATE,
    tracks: [
      {
        node: 0,
        path: 'translation',
        interpolation: 'LINEAR',
        times,
        values: Float32Array.from(places.flatMap(({ x }) => [x, 0, 0])),
      },
      {
        node: 0,
        path: 'rotation',
        interpolation: 'LINEAR',
        times,
        values: Float32Array.from(
          places.flatMap(({ angle }) => [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)]),
        ),
      },
    ],
  });
  const compiled = compileGarment(character, 0);
  const maxDistances = new Float32Array(compiled.pointCount);
  compiled.weldedOfPoint.forEach((welded, i) => {
    maxDistances[welded] = compiled.restPositions[4 * i + 1]! > 0.999 ? 0 : 1;
  });
  const run = new CharacterRun(character, [
    {
      id: 'flag' as RecordId,
      name: 'flag',
      compiled,
      fabric: { ...FABRIC_DEFAULTS, ...fabric },
      maxDistances,
      bodies,
      blend: 1,
    },
  ]);
  run.play(0);
  return run;
}

/** Largest speed of any point that is not held, m/s. */
function measureFastest(run: CharacterRun): number {
  const { velocities, state, garment } = run.garments[0]!.solver;
  let most = 0;
  for (let i = 0; i < garment.pointCount; i++) {
    if (state.inverseMasses[i] === 0) continue;
    most = Math.max(most, Math.hypot(velocities[4 * i]!, velocities[4 * i + 1]!, velocities[4 * i + 2]!));
  }
  return most;
}

const JUMP_FRAME = 80;

/** Fastest cloth in the second after a jump on top of an even way, and how fast it was before. */
function jump(far: number, angle: number, speed: number): { before: number; after: number } {
  const places = Array.from({ length: 150 }, (_, i) => ({
    x: (i * speed) / RATE + (i >= JUMP_FRAME ? far : 0),
    angle: i >= JUMP_FRAME ? angle : 0,
  }));
  // Ends where it began: what a clip travels over the ground would be taken out of it.
  places.push({ x: 0, angle: 0 });
  const run = createRun(places, { airDrag: 0, airLift: 0 });
  let before = 0;
  let after = 0;
  for (let i = 1; i < 148; i++) {
    run.step();
    if (i >= JUMP_FRAME) after = Math.max(after, measureFastest(run));
    else if (i > 40) before = Math.max(before, measureFastest(run));
  }
  return { before, after };
}

describe('jumps of the root', () => {
  // What the default acceleration changes in a frame, m/s: less than that is a motion, not a jump.
  const quick = FABRIC_DEFAULTS.mostRootAcceleration / RATE;

  it('of any length throw no cloth, standing or walking', () => {
    for (const speed of [0, 1.5])
      for (const far of [0.005, 0.02, 0.03, 0.1, 0.3, 0.49, 0.51, 2, 30, 1000]) {
        const { before, after } = jump(far, 0, speed);
        const ofJump = RATE * far < quick ? RATE * far : 0;
        expect(before).within(0.9 * speed, 1.5 * speed + 0.05);
        expect(after, `${far} m at ${speed} m/s`).below(
          // Places far from the origin are rounded more.
          2 * Math.max(speed, ofJump) + before + 0.05 + 3e-4 * far,
        );
      }
  });

  it('of any angle throw no cloth, standing or walking', () => {
    for (const speed of [0, 1.5])
      for (const degrees of [1, 3, 10, 30, 59, 61, 120, 180]) {
        const angle = (Math.PI * degrees) / 180;
        const { before, after } = jump(0, angle, speed);
        // The farthest point is 0.71 m from the root.
        const ofJump = RATE * angle < 2 * quick ? 0.71 * RATE * angle : 0;
        expect(after, `${degrees}° at ${speed} m/s`).below(2 * Math.max(speed, ofJump) + before + 0.05);
      }
  });

  it('carry bodies and cloth as one: with nothing felt, a wild way is as standing still', () => {
    const fabric = { rootMotionShare: 0, rootTurnShare: 0, airDrag: 0, airLift: 0, friction: 0.8 };
    const wild = Array.from({ length: 120 }, (_, i) => ({
      x: 0.3 * Math.sin(i),
      angle: 2 * Math.sin(0.7 * i),
    }));
    const still = createRun(
      wild.map(() => ({ x: 0, angle: 0 })),
      fabric,
      BODIES,
    );
    const run = createRun(wild, fabric, BODIES);
    for (let i = 1; i < 90; i++) {
      run.step();
      still.step();
    }
    const world = run.pose.worldMatrices;
    const [p, q] = [run.garments[0]!.solver.positions, still.garments[0]!.solver.positions];
    let touched = 0;
    for (let o = 0; o < 4 * 81; o += 4) {
      for (let k = 0; k < 3; k++) {
        const carried = [0, 1, 2].reduce((sum, j) => sum + world[4 * j + k]! * q[o + j]!, world[12 + k]!);
        expect(p[o + k]).closeTo(carried, 2e-3);
      }
      touched = Math.max(touched, Math.abs(q[o + 2]!));
    }
    expect(touched).above(0.02);
  });
});
