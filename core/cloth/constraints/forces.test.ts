import { expect } from 'chai';
import { compileGarment } from '../compiled-garment.ts';
import { STANDARD_GRAVITY } from '../fabric.ts';
import { KernelSolver } from '../kernel/kernel-solver.ts';
import { PlainSolver } from '../plain-solver.ts';
import { createSheet, createTestCharacter } from '../test-cloth.ts';
import { BARE, FRAME, hang, NO_BODIES, positionOf, SOLVER_NAMES, STILL } from '../test-hang.ts';
import { computeWindAt, type Wind } from '../wind.ts';

const AIR_DENSITY = 1.225;

/** One free triangle in a wind, after one frame: its mean velocity, m/s, and its mass, kg. */
function blow(
  Solver: typeof PlainSolver | typeof KernelSolver,
  corners: readonly number[],
  wind: Wind,
  fabric: { airDrag: number; airLift: number },
): { velocity: [number, number, number]; mass: number } {
  const garment = compileGarment(createTestCharacter(Float32Array.from(corners), Uint32Array.of(0, 1, 2)), 0);
  const solver = new Solver(garment, {
    ...BARE,
    ...fabric,
    density: 1,
    gravityScale: 0,
    substepsPerSecond: 60,
  });
  solver.setMaxDistances(new Float32Array(3).fill(100));
  solver.step(FRAME, garment.restPositions, { wind, bodies: NO_BODIES });
  const velocity: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < 12; i++) if (i % 4 < 3) velocity[i % 4]! += solver.velocities[i]! / 3;
  return { velocity, mass: garment.pointAreas.reduce((sum, area) => sum + area, 0) };
}

const STEADY = { windGusts: 0, windTurbulence: 0 };
const FLAT_ON = [0, 0, 0, 0.1, 0, 0, 0, 0.1, 0];
const EDGE_ON = [0, 0, 0, 0.1, 0, 0, 0, 0, 0.1];

for (const [name, Solver] of [
  ['plain', PlainSolver],
  ['kernel', KernelSolver],
] as const) {
  describe(`the air on one triangle, ${name} solver`, () => {
    const wind = computeWindAt({ windSpeed: 2, windDirection: 0, ...STEADY }, 0);

    it('presses a face that stands across it by ½ ρ C A v²', () => {
      const { velocity, mass } = blow(Solver, FLAT_ON, wind, { airDrag: 1, airLift: 0 });
      const force = 0.5 * AIR_DENSITY * 0.005 * 4;
      expect(velocity[2]).closeTo((force * FRAME) / mass, 1e-4);
      expect(Math.hypot(velocity[0], velocity[1])).below(1e-6);
      const twice = blow(Solver, FLAT_ON, wind, { airDrag: 2, airLift: 0 });
      expect(twice.velocity[2] / velocity[2]).closeTo(2, 1e-3);
    });

    it('slides along a face that lies in it', () => {
      const { velocity } = blow(Solver, EDGE_ON, wind, { airDrag: 2, airLift: 2 });
      expect(Math.hypot(...velocity)).below(1e-6);
    });

    it('does not lift a face straight across it, and lifts a slanted one across the wind only', () => {
      const [drag, both] = [0, 1.5].map(
        (airLift) => blow(Solver, FLAT_ON, wind, { airDrag: 1, airLift }).velocity[2],
      );
      expect(both).closeTo(drag!, 1e-5);
      const slanted = [0, 0, 0, 0.1, 0, 0, 0, 0.07, 0.07];
      const lift = blow(Solver, slanted, wind, { airDrag: 0, airLift: 1 }).velocity;
      expect(Math.abs(lift[2])).below(1e-5);
      expect(Math.abs(lift[1])).above(1e-3);
      // Whichever way round the triangle is wound.
      const turned = blow(Solver, [0, 0, 0, 0, 0.07, 0.07, 0.1, 0, 0], wind, {
        airDrag: 0,
        airLift: 1,
      }).velocity;
      expect(turned[1]).closeTo(lift[1], 1e-5);
    });

    it('never blows a face faster than itself, however light', () => {
      const storm = computeWindAt({ windSpeed: 50, windDirection: 90, ...STEADY }, 0);
      const across = [0, 0, 0, 0, 0.1, 0, 0, 0, 0.1];
      const { velocity } = blow(Solver, across, storm, { airDrag: 3, airLift: 3 });
      expect(velocity[0]).within(0, 50);
    });
  });
}

for (const name of SOLVER_NAMES) {
  describe(`a sheet that falls flat, ${name} solver`, () => {
    const even = createSheet(6, 6, (u, v) => [0.3 * u, 0, 0.3 * v]);
    // Columns crowd towards one side, so that borders differ.
    const uneven = createSheet(7, 4, (u, v) => [0.3 * u * u * u, 0, 0.3 * v]);

    it('ends at √(2 w g / ρ c), whatever the mesh and the frame, from silk to canvas', () => {
      for (const density of [0.02, 0.1, 1])
        for (const airDrag of [0.2, 1, 3])
          for (const frame of [1 / 30, 1 / 60, 1 / 120]) {
            const terminal = Math.sqrt((2 * density * STANDARD_GRAVITY) / (AIR_DENSITY * airDrag));
            // What differs is down to a seventh after v / g. Not from rest: a flat fall is not stable.
            const start = terminal / STANDARD_GRAVITY + 0.1;
            for (const sheet of [even, uneven]) {
              const solver = hang(name, sheet, { density, airDrag }, () => 1e6);
              for (let o = 1; o < solver.velocities.length; o += 4) solver.velocities[o] = -0.96 * terminal;
              const fall = (seconds: number): number => {
                for (let k = 0; k < Math.ceil(seconds / frame); k++)
                  solver.step(frame, solver.garment.restPositions, STILL);
                return positionOf(solver, 17)[1];
              };
              const speed = 5 * (fall(start) - fall(0.2));
              expect(speed, `${density} ${airDrag} ${frame}`).closeTo(terminal, 0.03 * terminal);
            }
          }
    });
  });
}

describe('eddies', () => {
  it('run across their own waves, so that the air is neither pressed nor thinned', () => {
    for (const windDirection of [0, 35, -120]) {
      const { waves } = computeWindAt({ windSpeed: 5, windDirection, windGusts: 0, windTurbulence: 1 }, 3.7);
      let total = 0;
      for (let o = 0; o < waves.length; o += 8) {
        const [kx, ky, kz, , ax, ay, az] = waves.subarray(o, o + 8) as unknown as number[];
        expect((kx! * ax! + ky! * ay! + kz! * az!) / Math.hypot(kx!, ky!, kz!)).closeTo(0, 1e-5);
        total += Math.hypot(ax!, ay!, az!);
      }
      expect(total).within(3, 6);
    }
  });

  it('drift with the wind: a later moment is the same air farther on', () => {
    const settings = { windSpeed: 4, windDirection: 20, windGusts: 0, windTurbulence: 1 };
    const [now, later] = [1, 1.25].map((time) => computeWindAt(settings, time).waves);
    let changed = 0;
    for (let o = 0; o < now!.length; o += 8) {
      expect([...now!.subarray(o, o + 3)]).deep.equal([...later!.subarray(o, o + 3)]);
      if (Math.abs(now![o + 3]! - later![o + 3]!) > 0.01) changed++;
    }
    expect(changed).at.least(4);
  });
});
