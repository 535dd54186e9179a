import { expect } from 'chai';
import { STANDARD_GRAVITY } from './fabric.ts';
import { createSheet } from './test-cloth.ts';
import { computeElasticaTip } from './test-elastica.ts';
import {
  BARE,
  FRAME,
  hang,
  measureEnergy,
  positionOf,
  run,
  type Sheet,
  SOLVER_NAMES,
  STILL,
} from './test-hang.ts';
import { visitStrains } from './visit-strains.ts';

/** A thin ribbon along x of the given length, `columns` squares long and one wide. */
function createRibbon(length: number, columns: number): Sheet {
  const width = length / columns;
  return createSheet(columns, 1, (u, v) => [u * length, 0, (v - 0.5) * width]);
}

/** A strip along x of equilateral triangles, which bend alike in all directions. */
function createEvenStrip(length: number, columns: number, rows: number): Sheet {
  const cell = length / columns;
  const positions: number[] = [];
  const triangles: number[] = [];
  const height = (cell * Math.sqrt(3)) / 2;
  for (let r = 0; r <= rows; r++) {
    const shift = r % 2 === 0 ? 0 : -0.5;
    for (let c = 0; c <= columns + (r % 2); c++) {
      // Rows in between are half a cell off, with half cells at both ends.
      const x = r % 2 === 0 ? c * cell : Math.min(length, Math.max(0, (c + shift) * cell));
      positions.push(x, 0, r * height);
    }
  }
  const start = (r: number): number => Math.floor(r / 2) * (2 * columns + 3) + (r % 2) * (columns + 1);
  for (let r = 0; r < rows; r++) {
    const isEven = r % 2 === 0;
    const [even, odd] = isEven ? [start(r), start(r + 1)] : [start(r + 1), start(r)];
    const add = (a: number, b: number, c: number): number =>
      isEven ? triangles.push(a, b, c) : triangles.push(a, c, b);
    for (let c = 0; c <= columns; c++) {
      add(even + c, odd + c, odd + c + 1);
      if (c < columns) add(even + c, odd + c + 1, even + c + 1);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

for (const name of SOLVER_NAMES) {
  describe(`the ${name} solver against closed forms`, () => {
    it('falls freely by g t² / 2', () => {
      const sheet = createSheet(4, 4, (u, v) => [u, 5, v]);
      const solver = hang(name, sheet, { substepsPerSecond: 480 }, () => 1e6);
      run(solver, 0.5);
      // Symplectic Euler is late by half a substep: g t h / 2.
      const expected = 5 - (STANDARD_GRAVITY * 0.5 * (0.5 + FRAME / 8)) / 2;
      for (let i = 0; i < 25; i++) expect(positionOf(solver, i)[1]).closeTo(expected, 1e-4);
    });

    it('swings a stiff sheet hung by one edge with the period of a pendulum', () => {
      // A rigid rod of length 1, hinged at its end: T = 2π √(2 L / 3 g) at small angles.
      const tilt = 0.1;
      const sheet = createSheet(8, 8, (u, v) => [v * Math.sin(tilt), -v * Math.cos(tilt), u]);
      const stiff = { stretchWarp: 50_000, stretchWeft: 50_000, shearStiffness: 25_000, bendStiffness: 0.1 };
      const solver = hang(name, sheet, { substepsPerSecond: 960, ...stiff }, (_x, y) =>
        y > -1e-6 ? 0 : 1e6,
      );
      const crossings: number[] = [];
      let before = 1;
      run(solver, 4, (frame) => {
        const now = positionOf(solver, 9 * 8 + 4)[0];
        if (before > 0 && now <= 0) crossings.push((frame + 1 - now / (now - before)) * FRAME);
        before = now;
      });
      const period = crossings[1]! - crossings[0]!;
      expect(period / (2 * Math.PI * Math.sqrt(2 / (3 * STANDARD_GRAVITY)))).closeTo(1, 0.015);
    });

    it('hangs a ribbon between two held ends as a catenary', () => {
      const [span, length, columns] = [1, 1.4, 40];
      // Starts as a V of the right length, so that the only way is down to the resting curve.
      const drop = Math.sqrt((length / 2) ** 2 - (span / 2) ** 2);
      const width = length / columns;
      const sheet = createSheet(columns, 1, (u, v) => [
        u * span,
        -drop * (1 - Math.abs(2 * u - 1)),
        (v - 0.5) * width,
      ]);
      const stiff = { stretchWarp: 50_000, stretchWeft: 50_000, shearStiffness: 25_000 };
      const solver = hang(name, sheet, { substepsPerSecond: 1200, ...stiff, damping: 3 }, (x) =>
        x < 1e-6 || x > span - 1e-6 ? 0 : 1e6,
      );
      run(solver, 8);
      // 2 a sinh(span / 2a) = length.
      let [low, high] = [0.01, 10];
      for (let i = 0; i < 80; i++) {
        const a = (low + high) / 2;
        if (2 * a * Math.sinh(span / (2 * a)) > length) low = a;
        else high = a;
      }
      const sag = low * (Math.cosh(span / (2 * low)) - 1);
      expect(-positionOf(solver, columns / 2)[1] / sag).closeTo(1, 0.01);
    });

    it('lets no tether become longer than its way along the cloth times the cap', () => {
      const soft = { stretchWarp: 10, stretchWeft: 10, shearStiffness: 5, density: 2 };
      for (const stretchCap of [1, 1.1]) {
        const solver = hang(name, createRibbon(1, 20), { ...soft, stretchCap, damping: 3 }, (x) =>
          x < 1e-6 ? 0 : 1e6,
        );
        const { garment } = solver;
        run(solver, 4, () => {
          for (let i = 0; i < garment.pointCount; i++) {
            const displacement = garment.restPositions[4 * i]!;
            const [x, y, z] = [0, 1, 2].map((k) => solver.positions[4 * i + k]!) as [number, number, number];
            const held = garment.restPositions[4 * i + 2]!;
            // The way along triangles is at most a little longer than the straight one.
            expect(Math.hypot(x, y, z - held)).at.most(stretchCap * Math.hypot(displacement, 0.05) + 1e-4);
          }
        });
        expect(-positionOf(solver, 20)[1]).within(stretchCap - 0.03, stretchCap + 0.01);
      }
    });

    it('holds every point within its max distance, for a moving target too', () => {
      const sheet = createSheet(6, 6, (u, v) => [u, 0, v]);
      const reach = (x: number, z: number): number => (x === 0 ? 0 : 0.02 + 0.2 * x * z);
      const solver = hang(name, sheet, {}, (x, _y, z) => reach(x, z));
      const rest = solver.garment.restPositions;
      const targets = rest.slice();
      for (let frame = 0; frame < 90; frame++) {
        for (let i = 0; i < targets.length; i += 4) {
          targets[i + 1] = 0.4 * Math.sin(frame * 0.3);
          targets[i] = rest[i]! + 0.05 * frame;
        }
        solver.step(FRAME, targets, STILL);
        for (let i = 0; i < targets.length; i += 4) {
          const d = Math.hypot(...[0, 1, 2].map((k) => solver.positions[i + k]! - targets[i + k]!));
          expect(d).at.most(reach(rest[i]!, rest[i + 2]!) + 1e-5);
        }
      }
    });

    it('hangs a point at exactly its max distance below where it is skinned', () => {
      const soft = { stretchWarp: 10, stretchWeft: 10, shearStiffness: 5 };
      const solver = hang(name, createRibbon(0.4, 4), { ...soft, damping: 4 }, () => 0.3);
      run(solver, 5);
      for (let i = 0; i < solver.garment.pointCount; i++)
        expect(positionOf(solver, i)[1]).closeTo(-0.3, 1e-4);
    });

    it('never gains energy that nothing put in', () => {
      for (const bendStiffness of [0, 1e-5, 1e-3, 0.05]) {
        const sheet = createSheet(10, 10, (u, v) => [0.5 * u, 0.02 * Math.sin(9 * u) * v, 0.5 * v]);
        const solver = hang(name, sheet, { bendStiffness, foldMemory: 0 }, (x) => (x < 1e-6 ? 0 : 1e6));
        run(solver, FRAME);
        const most = measureEnergy(solver);
        let least = most;
        run(solver, 4, () => {
          const energy = measureEnergy(solver);
          expect(energy).at.most(most + 1e-3 * Math.abs(most - least) + 1e-6);
          least = Math.min(least, energy);
        });
        expect(least).below(most - 1e-3);
      }
    });

    it('stays calm with slivers at its hem', () => {
      const sheet = createSheet(8, 8, (u, v) => [0.4 * u, -0.4 * v, 0]);
      const positions = [...sheet.positions];
      const triangles = [...sheet.triangles];
      // Beside each edge of the hem a point a micrometre out, with hardly any mass.
      for (let c = 0; c < 8; c++) {
        const [a, b] = [72 + c, 73 + c];
        triangles.push(a, positions.length / 3, b);
        positions.push(0.05 * (c + 0.5), -0.4 - 1e-6, 0);
      }
      const slivers = { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
      const stiff = { stretchWarp: 4000, stretchWeft: 4000, shearStiffness: 1600 };
      const solver = hang(name, slivers, { ...stiff, bendStiffness: 1e-4 }, (_x, y) => (y > -1e-6 ? 0 : 1e6));
      const targets = solver.garment.restPositions.slice();
      for (let frame = 0; frame < 180; frame++) {
        for (let i = 2; i < targets.length; i += 4) targets[i] = 0.05 * Math.sin(0.2 * frame);
        solver.step(FRAME, targets, STILL);
        visitStrains(solver.garment, solver.positions, (strain, rest) => {
          if (rest > 1e-3) expect(Math.abs(strain)).below(0.2);
        });
        for (let i = 0; i < 4 * solver.garment.pointCount; i++)
          expect(Math.abs(solver.velocities[i]!)).below(6);
      }
      expect(solver.recoveredFrames).equal(0);
    });

    it('stays where it rests, to a hundredth of a millimetre', () => {
      const sheet = createSheet(12, 12, (u, v) => [0.4 * u, -0.4 * v, 0.03 * Math.sin(12 * u)]);
      const fabric = { ...BARE, bendStiffness: 2e-4, damping: 3, foldMemory: 1 };
      const solver = hang(name, sheet, fabric, (_x, y) => (y > -1e-6 ? 0 : 1e6));
      run(solver, 25);
      const before = solver.positions.slice();
      run(solver, 2, () => {
        for (let i = 0; i < before.length; i++) expect(solver.positions[i]).closeTo(before[i]!, 1e-5);
      });
    });
  });
}

describe('a heavy strip clamped at one end', () => {
  const length = 0.3;
  const density = 0.3;
  for (const columns of [12, 24, 48]) {
    it(`hangs as the planar elastica says, ${columns} points long, from stiff to soft`, () => {
      const errors = [5e-4, 1e-3, 4e-3].map((bendStiffness) => {
        const cell = length / columns;
        // Clamped by two columns of held points, so that the slope there is fixed.
        const sheet = createEvenStrip(length + 2 * cell, columns + 2, 6);
        const stiff = { stretchWarp: 5000, stretchWeft: 5000, shearStiffness: 2500, stretchCap: 1.02 };
        const solver = hang(
          'kernel',
          sheet,
          { ...stiff, bendStiffness, density, damping: 6, substepsPerSecond: 1440, iterations: 2 },
          (x) => (x < 1.8 * cell ? 0 : 1e6),
        );
        run(solver, 4);
        const tip = positionOf(solver, columns + 2);
        // Free from the last column that is held in every row.
        const start = cell;
        const free = length + 2 * cell - start;
        const { along, down } = computeElasticaTip(density * STANDARD_GRAVITY, bendStiffness, free);
        return Math.hypot(tip[0] - start - along, -tip[1] - down) / free;
      });
      for (const error of errors) expect(error).below(0.05);
    }).timeout(60_000);
  }
});
