import { expect } from 'chai';
import type { ClothSolver, PointScales } from './cloth-solver.ts';
import { computeEdgeStiffness } from './derive-factors.ts';
import {
  completeFabric,
  computeBendingLength,
  computeBendStiffness,
  FABRIC_DEFAULTS,
  FABRIC_KEYS,
  FABRIC_RANGES,
} from './fabric.ts';
import { LIBRARY_FABRICS } from './fabric-library.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { createSheet } from './test-cloth.ts';
import {
  FRAME,
  hang,
  NO_BODIES,
  positionOf,
  run,
  SOLVER_NAMES,
  type SolverName,
  STILL,
} from './test-hang.ts';
import { computeWindAt, NO_WIND, STILL_AIR } from './wind.ts';

/** A curtain one metre square, its warp down, hung by its upper edge. */
function createCurtain(cells: number): ReturnType<typeof createSheet> & { uvs: Float32Array } {
  const sheet = createSheet(cells, cells, (u, v) => [u - 0.5, -v, 0]);
  const uvs = new Float32Array(2 * (cells + 1) ** 2);
  for (let i = 0; i < uvs.length / 2; i++) {
    uvs.set([sheet.positions[3 * i]! + 0.5, 1 + sheet.positions[3 * i + 1]!], 2 * i);
  }
  return { ...sheet, uvs };
}

function hangCurtain(name: SolverName, fabric: Partial<FabricSettings>, cells = 8): ClothSolver {
  return hang(name, createCurtain(cells), fabric, (_x, y) => (y > -1e-6 ? 0 : 1e6));
}

for (const name of SOLVER_NAMES) {
  describe(`settings of the ${name} solver`, () => {
    it('stretch by weight over stiffness along the warp, whatever the mesh', () => {
      for (const stretchWarp of [100, 400]) {
        const longer = [6, 12].map((cells) => {
          const fabric = { density: 1, stretchWarp, stretchWeft: 5000, shearStiffness: 20, damping: 3 };
          const solver = hangCurtain(name, { ...fabric, substepsPerSecond: 480, iterations: 2 }, cells);
          run(solver, 4);
          return -1 - positionOf(solver, cells * (cells + 1) + cells / 2)[1];
        });
        // The strain at height s above the hem is w g s / k: w g L² / 2 k in all. The diagonals help the warp a little.
        const expected = 9.80665 / (2 * stretchWarp);
        for (const length of longer) expect(length / expected).within(0.75, 1.1);
        expect(longer[0]! / longer[1]!).within(0.9, 1.1);
      }
    });

    it('stretch warp and weft each by its own stiffness', () => {
      const droop = (stretchWarp: number, stretchWeft: number): number => {
        const solver = hangCurtain(name, {
          density: 1,
          stretchWarp,
          stretchWeft,
          shearStiffness: 50,
          damping: 3,
        });
        run(solver, 3);
        return -1 - positionOf(solver, 8 * 9 + 4)[1];
      };
      expect(droop(100, 5000)).above(3 * droop(5000, 100));
    });

    it('let threads that are pushed together give way within the compression range', () => {
      // Two ends that come nearer than the sheet is long, without weight: its length is held, or given up.
      const bulge = (compressionRange: number): number => {
        const sheet = createSheet(10, 2, (u, v) => [u, 0.02 * Math.sin(Math.PI * u), 0.2 * v]);
        const solver = hang(
          name,
          sheet,
          { compressionRange, bendStiffness: 1e-4, gravityScale: 0, damping: 4 },
          (x) => (x < 1e-6 || x > 1 - 1e-6 ? 0 : 1e6),
        );
        for (let frame = 1; frame <= 180; frame++) {
          const share = 1 - 0.1 * Math.min(1, frame / 60);
          const targets = solver.garment.restPositions.map((value, i) =>
            i % 4 === 0 ? share * value : value,
          );
          solver.step(FRAME, targets, STILL);
        }
        return positionOf(solver, 11 + 5)[1];
      };
      const whole = bulge(0);
      expect(whole).above(0.09);
      expect(bulge(0.3)).below(0.65 * whole);
      expect(bulge(0.02)).within(0.65 * whole, whole);
    });

    it('let a knit that was pushed together hang down to its full length', () => {
      const knit = LIBRARY_FABRICS.find((fabric) => fabric.name === 'Jersey knit')!.settings;
      const solver = hangCurtain(name, { ...knit, stretchCap: 2, damping: 4 });
      const gathered = solver.garment.restPositions.map((value, i) => (i % 4 === 1 ? 0.93 * value : value));
      for (let frame = 0; frame < 30; frame++) solver.step(FRAME, gathered, STILL);
      run(solver, 5);
      expect(positionOf(solver, 8 * 9 + 4)[1]).within(-1.006, -0.998);
    });

    it('move with the wind, and by nothing without drag and lift', () => {
      const push = (airDrag: number, airLift: number): number => {
        const solver = hangCurtain(name, { airDrag, airLift });
        const wind = computeWindAt({ ...NO_WIND, windSpeed: 6 }, 0);
        for (let frame = 0; frame < 120; frame++) {
          solver.step(FRAME, solver.garment.restPositions, { wind, bodies: NO_BODIES });
        }
        return positionOf(solver, 8 * 9 + 4)[2];
      };
      expect(push(0, 0)).closeTo(0, 1e-6);
      expect(push(1, 0)).above(0.2);
      expect(push(1, 1)).above(0.2);
    });

    it('droop less when stiffer and more when denser, held at one end', () => {
      const droop = (settings: Partial<FabricSettings>): number => {
        const sheet = createSheet(6, 1, (u, v) => [0.3 * u, 0, 0.05 * (v - 0.5)]);
        const solver = hang(name, sheet, { damping: 4, substepsPerSecond: 960, ...settings }, (x) =>
          x < 0.06 ? 0 : 1e6,
        );
        run(solver, 3);
        return -positionOf(solver, 6)[1];
      };
      const stiff = droop({ bendStiffness: 3e-2 });
      expect(stiff).below(0.6 * droop({ bendStiffness: 1e-4 }));
      expect(droop({ bendStiffness: 3e-2, density: 1.4 })).above(1.3 * stiff);
    });

    it('still quivering along the threads without slowing a fall', () => {
      const ring = (edgeDamping: number): { quiver: number; fall: number } => {
        const sheet = createSheet(4, 4, (u, v) => [u, 0, v]);
        const fabric = {
          edgeDamping,
          stretchWarp: 100,
          stretchWeft: 100,
          shearStiffness: 50,
          substepsPerSecond: 960,
        };
        const solver = hang(name, sheet, fabric, () => 1e6);
        const { restPositions, pointCount } = solver.garment;
        for (let i = 0; i < 4 * pointCount; i += 4) solver.velocities[i] = 2 * (restPositions[i]! - 0.5);
        run(solver, 0.25);
        let quiver = 0;
        for (let i = 0; i < 4 * pointCount; i += 4)
          quiver = Math.max(quiver, Math.abs(solver.velocities[i]!));
        return { quiver, fall: solver.velocities[1]! };
      };
      const [free, damped] = [ring(0), ring(2)];
      expect(free.quiver).above(0.1);
      expect(damped.quiver).below(0.5 * free.quiver);
      expect(damped.fall).closeTo(free.fall, 1e-3);
    });

    it('keep points off the body that an inward limit stands for', () => {
      // The skin is the plane z = 0, facing +z; wind blows the cloth into it.
      const sink = (depth: number): number => {
        const solver = hangCurtain(name, { airDrag: 2 });
        const { pointCount } = solver.garment;
        const depths = new Float32Array(pointCount).fill(depth);
        solver.setInwardLimits(depths, new Float32Array(pointCount).fill(0.5));
        const wind = computeWindAt({ ...NO_WIND, windSpeed: 5, windDirection: 180 }, 0);
        let deepest = 0;
        for (let frame = 0; frame < 60; frame++) {
          solver.step(FRAME, solver.garment.restPositions, { wind, bodies: NO_BODIES });
          for (let i = 0; i < pointCount; i++) {
            const [x, y, z] = [0, 1, 2].map((k) => solver.positions[4 * i + k]!) as [number, number, number];
            const [rx, ry] = [solver.garment.restPositions[4 * i]!, solver.garment.restPositions[4 * i + 1]!];
            // Below the sphere of radius 0.5 whose top lies `depth` under the skinned place.
            if (solver.state.inverseMasses[i] === 0 || !(depth >= 0)) {
              deepest = Math.min(deepest, z);
              continue;
            }
            deepest = Math.min(deepest, Math.hypot(x - rx, y - ry, z + depth + 0.5) - 0.5);
          }
        }
        return deepest;
      };
      expect(sink(-1)).below(-0.2);
      expect(sink(0.02)).above(-1e-4);
    });

    it('make no point of the outer shell lighter by the lining that rides on it', () => {
      // Three rows of lining below the hem of a shell, so that its last triangles carry what lies beside them.
      const solver = hangCurtain(name, {});
      const { garment, state } = solver;
      const before = state.inverseMasses.slice();
      solver.setLining(Uint8Array.from({ length: garment.pointCount }, (_, i) => (i >= 54 ? 1 : 0)));
      let mass = 0;
      for (let i = 0; i < garment.pointCount; i++) {
        expect(state.inverseMasses[i]).at.most(before[i]!);
        if (state.inverseMasses[i]! > 0) mass += 1 / state.inverseMasses[i]!;
      }
      // All of the curtain's is still there, but for its held edge.
      const whole = before.reduce((sum, w) => sum + (w > 0 ? 1 / w : 0), 0);
      expect(mass).closeTo(whole, 1e-5);
    });

    it('carry lining points on the outer shell', () => {
      // Two sheets, the inner 1 cm behind the outer.
      const outer = createCurtain(6);
      const inner = createSheet(6, 6, (u, v) => [0.9 * (u - 0.5), -0.05 - 0.9 * v, -0.01]);
      const sheet = {
        positions: Float32Array.of(...outer.positions, ...inner.positions),
        triangles: Uint32Array.of(...outer.triangles, ...inner.triangles.map((i) => i + 49)),
      };
      const solver = hang(name, sheet, { bendStiffness: 1e-4, airDrag: 1 }, (_x, y) => (y > -1e-6 ? 0 : 1e6));
      const { garment } = solver;
      const isLining = new Uint8Array(98);
      garment.weldedOfPoint.forEach((welded, i) => {
        if (garment.restPositions[4 * i + 2]! < -0.005) isLining[welded] = 1;
      });
      solver.setLining(isLining);
      const wind = computeWindAt({ ...NO_WIND, windSpeed: 5 }, 0);
      for (let frame = 0; frame < 60; frame++) {
        solver.step(FRAME, garment.restPositions, { wind, bodies: NO_BODIES });
      }
      expect(positionOf(solver, 6 * 7 + 3)[2]).above(0.1);
      for (let i = 49; i < 98; i++) {
        const p = positionOf(solver, i);
        const nearest = Math.min(
          ...Array.from({ length: 49 }, (_, j) =>
            Math.hypot(...positionOf(solver, j).map((value, k) => value - p[k]!)),
          ),
        );
        expect(nearest).below(0.16);
      }
      const hem = positionOf(solver, 49 + 6 * 7 + 3);
      expect(hem[2]).above(0.08);
    });

    it('count point by point as their scales say, and no others', () => {
      const half = (low: number, high: number): Float32Array =>
        Float32Array.from({ length: 81 }, (_, i) => (i % 9 < 4 ? low : high));
      const wind = computeWindAt({ ...NO_WIND, windSpeed: 4, windDirection: 0 }, 0);
      const blow = (scales: Partial<PointScales>): [left: number, right: number] => {
        const solver = hangCurtain(name, { airDrag: 1, stretchWarp: 60, damping: 2 });
        solver.setScales({ stiffness: null, damping: null, drag: null, ...scales });
        for (let frame = 0; frame < 25; frame++)
          solver.step(FRAME, solver.garment.restPositions, { wind, bodies: NO_BODIES });
        return [positionOf(solver, 8 * 9 + 1)[2], positionOf(solver, 8 * 9 + 7)[2]];
      };
      const plain = blow({});
      expect(plain[0]).closeTo(plain[1], 0.02);
      expect(blow({ drag: half(1, 1), damping: half(1, 1), stiffness: half(1, 1) })).deep.equal(plain);
      const caught = blow({ drag: half(0.2, 1) });
      expect(caught[0]).below(0.7 * caught[1]);
      const damped = blow({ damping: half(10, 1) });
      expect(damped[0]).below(0.8 * damped[1]);
      const droop = (stiffness: Float32Array | null): number[] => {
        const solver = hangCurtain(name, { density: 1, stretchWarp: 60, shearStiffness: 5, damping: 3 });
        solver.setScales({ stiffness, damping: null, drag: null });
        run(solver, 2);
        return [1, 7].map((column) => -1 - positionOf(solver, 8 * 9 + column)[1]);
      };
      const [soft] = droop(null);
      const [stiff, asBefore] = droop(half(8, 1));
      expect(stiff).below(0.4 * soft!);
      expect(asBefore! / soft!).within(0.7, 1.2);
    });

    it('go with the hand that pulls, and stay within reach', () => {
      const solver = hang(name, createCurtain(8), { damping: 1 }, (_x, y) => (y > -1e-6 ? 0 : 0.3));
      const point = solver.garment.pointOfVertex[8 * 9 + 4]!;
      solver.setPull({ points: [{ point, position: [0, -1, 5], strength: 0.5 }] });
      run(solver, 1);
      expect(positionOf(solver, 8 * 9 + 4)[2]).within(0.25, 0.3001);
      solver.setPull(null);
      run(solver, 2);
      expect(positionOf(solver, 8 * 9 + 4)[2]).below(0.15);
    });

    it('reach the running solver, whatever it was made with', () => {
      const [edited, fresh] = [hangCurtain(name, { density: 2, bendStiffness: 1e-3 }), hangCurtain(name, {})];
      const { fabric } = fresh;
      edited.setFabric(fabric);
      for (const solver of [edited, fresh]) run(solver, 0.5);
      expect(edited.positions).deep.equal(fresh.positions);
      for (const solver of [edited, fresh]) solver.setMaxDistances(new Float32Array(81).fill(0.01));
      edited.setFabric({ ...fabric, substepsPerSecond: 180, damping: 1, stretchCap: 1 });
      run(edited, 0.5);
      for (let i = 0; i < 81; i++) {
        const o = 4 * i;
        const d = Math.hypot(
          ...[0, 1, 2].map((k) => edited.positions[o + k]! - edited.garment.restPositions[o + k]!),
        );
        expect(d).at.most(0.01 + 1e-6);
      }
    });

    it('are carried and turned with the character through a jump', () => {
      const solver = hangCurtain(name, { airDrag: 1 });
      const wind = computeWindAt({ ...NO_WIND, windSpeed: 6 }, 0);
      for (let frame = 0; frame < 40; frame++) {
        solver.step(FRAME, solver.garment.restPositions, { wind, bodies: NO_BODIES });
      }
      const before = [...solver.positions];
      // Half a turn about the vertical, and 5 m on.
      const turned = solver.garment.restPositions.map((value, i) =>
        i % 4 === 0 ? 5 - value : i % 4 === 2 ? -value : value,
      );
      solver.jump(turned, STILL, [-1, 0, 0, 0, 1, 0, 0, 0, -1]);
      for (let i = 0; i < 4 * 81; i += 4) {
        expect(solver.positions[i]).closeTo(5 - before[i]!, 1e-5);
        expect(solver.positions[i + 1]).closeTo(before[i + 1]!, 1e-5);
        expect(solver.positions[i + 2]).closeTo(-before[i + 2]!, 1e-5);
      }
    });

    it('put the last good frame back, and count it, when numbers break', () => {
      const solver = hangCurtain(name, { airDrag: 1 });
      run(solver, 0.2);
      const good = solver.positions.slice();
      solver.velocities[4 * 40] = Number.POSITIVE_INFINITY;
      run(solver, FRAME);
      expect(solver.recoveredFrames).equal(1);
      for (let i = 0; i < good.length; i++) expect(solver.positions[i]).closeTo(good[i]!, 1e-6);
      const broken = { mean: [Number.NaN, 0, 0] as [number, number, number], waves: STILL_AIR.waves };
      solver.step(FRAME, solver.garment.restPositions, { wind: broken, bodies: NO_BODIES });
      const targets = solver.garment.restPositions.slice().fill(Number.NaN, 8, 12);
      solver.step(FRAME, targets, STILL);
      expect(solver.recoveredFrames).equal(2);
      run(solver, 0.5);
      expect(solver.positions.every(Number.isFinite)).equal(true);
      expect(solver.recoveredFrames).equal(2);
    });

    it('give the same bytes for the same inputs', () => {
      const once = (): Float32Array => {
        const solver = hangCurtain(name, {
          bendStiffness: 1e-4,
          damping: 0.4,
          airDrag: 1,
          selfDistance: 0.02,
        });
        for (let frame = 0; frame < 60; frame++) {
          const wind = computeWindAt(
            { windSpeed: 5, windDirection: 40, windGusts: 1, windTurbulence: 1 },
            frame * FRAME,
          );
          solver.step(FRAME, solver.garment.restPositions, { wind, bodies: NO_BODIES });
        }
        return solver.positions;
      };
      expect(once()).deep.equal(once());
    });
  });
}

describe('fabrics', () => {
  it('have defaults and library values within their ranges', () => {
    expect(LIBRARY_FABRICS.length).at.least(8);
    for (const settings of [FABRIC_DEFAULTS, ...LIBRARY_FABRICS.map((fabric) => fabric.settings)]) {
      for (const key of FABRIC_KEYS) {
        expect(settings[key], key).within(...FABRIC_RANGES[key]);
      }
      expect(completeFabric(settings)).deep.equal(settings);
    }
  });

  it('bend by the bending length of the cantilever test', () => {
    for (const { bendingLength, settings } of LIBRARY_FABRICS) {
      expect(computeBendingLength(settings.density, settings.bendStiffness)).closeTo(bendingLength, 1e-9);
    }
    // 150 g/m² and 2 cm: 0.15 · 9.80665 · 8e-6 N·m.
    expect(computeBendStiffness(0.15, 0.02)).closeTo(1.1768e-5, 1e-9);
  });

  it('are completed, bounded and rounded when read', () => {
    const fabric = completeFabric({ density: 1e9, friction: Number.NaN, substepsPerSecond: 300.6 });
    expect(fabric.density).equal(FABRIC_RANGES.density[1]);
    expect(fabric.friction).equal(FABRIC_DEFAULTS.friction);
    expect(fabric.substepsPerSecond).equal(301);
  });

  it('of earlier formats keep what they said under other names', () => {
    const { rootMotionShare, rootTurnShare, stretchWarp, stretchWeft, shearStiffness } = completeFabric({
      stretchStiffness: 3000,
      linearInertia: 0.25,
      angularInertia: 0.5,
    });
    expect([rootMotionShare, rootTurnShare]).deep.equal([0.25, 0.5]);
    expect([stretchWarp, stretchWeft, shearStiffness]).deep.equal([3000, 3000, 1500]);
    // The name of today counts when both are there.
    expect(completeFabric({ rootMotionShare: 0.75, linearInertia: 0.25 }).rootMotionShare).equal(0.75);
  });

  it('are as stiff off the axes as an orthotropic sheet', () => {
    const fabric = { ...FABRIC_DEFAULTS, stretchWarp: 1000, stretchWeft: 200, shearStiffness: 100 };
    expect(computeEdgeStiffness(fabric, 1)).closeTo(1000, 1e-9);
    expect(computeEdgeStiffness(fabric, 0)).closeTo(200, 1e-9);
    // On the bias: 1 / (1/4 (1/1000 + 1/200 + 1/100)).
    expect(computeEdgeStiffness(fabric, 0.5)).closeTo(250, 1e-9);
  });
});

describe('wind', () => {
  it('blows where it says, gusts around its speed, and is the same at the same moment', () => {
    const steady = computeWindAt({ windSpeed: 3, windDirection: 90, windGusts: 0, windTurbulence: 0 }, 7);
    expect(steady.mean[0]).closeTo(3, 1e-12);
    expect(steady.mean[2]).closeTo(0, 1e-12);
    expect(steady.waves.filter((_, i) => i % 8 > 3).every((value) => value === 0)).equal(true);
    const settings = { windSpeed: 4, windDirection: 0, windGusts: 1, windTurbulence: 0.5 };
    const speeds = Array.from({ length: 3000 }, (_, i) => computeWindAt(settings, i / 10).mean[2]);
    expect(Math.min(...speeds)).within(0, 1.5);
    expect(Math.max(...speeds)).within(6.5, 8);
    expect(speeds.reduce((sum, speed) => sum + speed, 0) / speeds.length).closeTo(4, 0.1);
    expect(computeWindAt(settings, 12.3)).deep.equal(computeWindAt(settings, 12.3));
  });
});
