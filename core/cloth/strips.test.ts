import { expect } from 'chai';
import { remesh } from '../mesh/index.ts';
import { createGrid } from '../mesh/test-surfaces.ts';
import { createRigidCharacter } from '../rig/index.ts';
import { type CompiledGarment, compileGarment } from './compiled-garment.ts';
import { computeEdgeStiffness } from './derive-factors.ts';
import { computeElongation } from './fabric.ts';
import { LIBRARY_FABRICS } from './fabric-library.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { KernelSolver } from './kernel/kernel-solver.ts';
import { FRAME, STILL } from './test-hang.ts';
import { visitStrains } from './visit-strains.ts';

const WIDTH = 0.2;
/** At most this much of the length may a strip be longer than theory says by 1.3 times; and meshes differ, of the length. */
const LEAST_ALLOWED = 0.004;
const MESHES_DIFFER = 0.003;

/** A strip of 1 m, its warp turned against it by an angle (rad). */
function createStrip(kind: 'grid' | 'remesh', edgeLength: number, turn: number): CompiledGarment {
  const grid = (columns: number, rows: number) => createGrid(columns, rows, (u, v) => [WIDTH * u, 0, v]);
  const surface =
    kind === 'grid'
      ? grid(Math.round(WIDTH / edgeLength), Math.round(1 / edgeLength))
      : remesh(grid(20, 100), { edgeLength });
  const character = createRigidCharacter('strip', surface.positions, surface.triangles);
  const uvs = new Float32Array((2 * surface.positions.length) / 3);
  for (let i = 0; i < uvs.length / 2; i++) {
    const [x, z] = [surface.positions[3 * i]!, surface.positions[3 * i + 2]!];
    uvs.set([Math.cos(turn) * x + Math.sin(turn) * z, -Math.sin(turn) * x + Math.cos(turn) * z], 2 * i);
  }
  character.sections[0]!.uvs = uvs;
  return compileGarment(character, 0);
}

/** Held at its top, without air and tethers, everything else as it comes. */
function createHung(garment: CompiledGarment, fabric: FabricSettings, isFlat = false) {
  const { restPositions: rest, pointCount, weldedOfPoint } = garment;
  const solver = new KernelSolver(garment, {
    ...fabric,
    ...(!isFlat && { damping: 4 }),
    airDrag: 0,
    airLift: 0,
    stretchCap: 2,
    selfDistance: 0,
  });
  const distances = new Float32Array(pointCount);
  const targets = new Float32Array(4 * pointCount);
  for (let i = 0; i < pointCount; i++) {
    const down = rest[4 * i + 2]!;
    distances[weldedOfPoint[i]!] = down < 1e-4 ? 0 : 10;
    targets.set(isFlat ? [rest[4 * i]!, 0, down] : [rest[4 * i]!, -down, 0], 4 * i);
  }
  solver.setMaxDistances(distances);
  solver.reset(targets, STILL);
  return { solver, targets };
}

/** How much longer than 1 m a strip hangs, m. */
function measureElongation(garment: CompiledGarment, fabric: FabricSettings): number {
  const { solver, targets } = createHung(garment, fabric);
  for (let frame = 0; frame < 180; frame++) solver.step(FRAME, targets, STILL);
  let [sum, count] = [0, 0];
  for (let i = 0; i < garment.pointCount; i++) {
    if (garment.restPositions[4 * i + 2]! < 1 - 1e-4) continue;
    sum -= solver.positions[4 * i + 1]!;
    count++;
  }
  return sum / count - 1;
}

function predictElongation(fabric: FabricSettings, turn: number): number {
  return computeElongation(fabric.density, computeEdgeStiffness(fabric, Math.cos(turn) ** 2));
}

describe('strips of cloth hung under their weight, as fabrics come', function () {
  this.timeout(240_000);

  for (const [title, turn] of [
    ['along the warp', 0],
    ['across the warp', Math.PI / 2],
    ['on the bias', Math.PI / 4],
  ] as const) {
    const strips = [
      ['grid', 0.05],
      ['grid', 0.025],
      ['remesh', 0.05],
      ['remesh', 0.04],
      ['remesh', 0.02],
    ].map(([kind, edge]) => createStrip(kind as 'grid' | 'remesh', edge as number, turn));

    it(`become as long as their stiffness says, on any mesh, ${title}`, () => {
      const measured = LIBRARY_FABRICS.map(({ name, settings }) => {
        const theory = predictElongation(settings, turn);
        const each = strips.map((strip) => measureElongation(strip, settings));
        expect(Math.max(...each), name).at.most(Math.max(1.3 * theory, LEAST_ALLOWED));
        expect(Math.min(...each), name).at.least(0.7 * theory);
        expect(Math.max(...each) - Math.min(...each), name).below(MESHES_DIFFER);
        return { theory, each };
      });
      // In the order of their stiffness over weight, on every mesh, where theory tells them apart.
      for (const p of measured) {
        for (const q of measured) {
          if (p.theory < 1.15 * q.theory + 1e-4) continue;
          p.each.forEach((value, i) => {
            expect(value).above(q.each[i]! - 1e-5);
          });
        }
      }
    });
  }

  it('are stretched little when they fall from level', () => {
    for (const name of ['Oilskin', 'Jersey knit', 'Chiffon']) {
      const { settings } = LIBRARY_FABRICS.find((fabric) => fabric.name === name)!;
      for (const [strip, most] of [
        [createStrip('grid', 0.04, 0), 0.05],
        [createStrip('remesh', 0.04, 0), 0.15],
      ] as const) {
        const { solver, targets } = createHung(strip, settings, true);
        let worst = 0;
        for (let frame = 0; frame < 150; frame++) {
          solver.step(FRAME, targets, STILL);
          visitStrains(strip, solver.positions, (strain) => {
            worst = Math.max(worst, strain);
          });
        }
        expect(worst, name).below(most);
      }
    }
  });

  it('say how much of the stiffness is felt', () => {
    const { settings } = LIBRARY_FABRICS.find((fabric) => fabric.name === 'Oilskin')!;
    const theory = predictElongation(settings, 0);
    const grid = createStrip('grid', 0.05, 0);
    const fine = createStrip('remesh', 0.02, 0);
    for (const [strip, substepsPerSecond] of [
      [grid, 360],
      [fine, 360],
      [fine, 960],
    ] as const) {
      const { solver, targets } = createHung(strip, { ...settings, substepsPerSecond });
      for (let frame = 0; frame < 180; frame++) solver.step(FRAME, targets, STILL);
      const felt = theory / measureElongation(strip, { ...settings, substepsPerSecond });
      expect(solver.heldStretch).within(0.5 * felt, 1.3 * felt);
    }
  });
});
