import { expect } from 'chai';
import { createRandom } from '../math/index.ts';
import { remesh } from '../mesh/index.ts';
import { createGrid } from '../mesh/test-surfaces.ts';
import { createRigidCharacter } from '../rig/index.ts';
import { compileGarment } from './compiled-garment.ts';
import { LIBRARY_FABRICS } from './fabric-library.ts';
import { KernelSolver } from './kernel/kernel-solver.ts';
import { STILL } from './test-hang.ts';
import { visitStrains } from './visit-strains.ts';

/** Lengths of frames, s. */
const CLOCKS: Record<string, () => () => number> = {
  'thirty frames a second': () => () => 1 / 30,
  'sixty frames a second': () => () => 1 / 60,
  'a hundred and twenty frames a second': () => () => 1 / 120,
  'frames of uneven length': () => {
    const random = createRandom(3);
    return () => (0.5 + random()) / 60;
  },
};
const SECONDS = 12;
const FROM = 2;

/** Mean height of the hem (m) and mean strain of a banner whose top is moved to and fro by 5 cm each second. */
function wave(fabric: string, readFrame: () => number): { hem: number; strain: number } {
  const surface = remesh(
    createGrid(20, 32, (u, v) => [0.3 * u, 0, 0.5 * v]),
    { edgeLength: 0.03 },
  );
  const garment = compileGarment(createRigidCharacter('banner', surface.positions, surface.triangles), 0);
  const { restPositions: rest, pointCount, weldedOfPoint } = garment;
  const { settings } = LIBRARY_FABRICS.find(({ name }) => name === fabric)!;
  const solver = new KernelSolver(garment, settings);
  const distances = new Float32Array(pointCount);
  const targets = new Float32Array(4 * pointCount);
  const pose = (time: number): void => {
    const sway = 0.05 * Math.sin(2 * Math.PI * time);
    for (let i = 0; i < pointCount; i++) targets.set([rest[4 * i]!, -rest[4 * i + 2]!, sway], 4 * i);
  };
  weldedOfPoint.forEach((welded, i) => {
    distances[welded] = rest[4 * i + 2]! < 1e-4 ? 0 : 10;
  });
  solver.setMaxDistances(distances);
  pose(0);
  solver.reset(targets, STILL);
  let [hem, strain, weight] = [0, 0, 0];
  for (let time = 0; time < SECONDS; ) {
    const seconds = readFrame();
    time += seconds;
    pose(time);
    solver.step(seconds, targets, STILL);
    if (time < FROM) continue;
    weight += seconds;
    hem += seconds * measureHem();
    strain += seconds * measureStrain();
  }
  return { hem: hem / weight, strain: strain / weight };

  function measureHem(): number {
    let [sum, count] = [0, 0];
    for (let i = 0; i < pointCount; i++) {
      if (rest[4 * i + 2]! < 0.5 - 1e-4) continue;
      sum += solver.positions[4 * i + 1]!;
      count++;
    }
    return sum / count;
  }

  function measureStrain(): number {
    let [sum, count] = [0, 0];
    visitStrains(garment, solver.positions, (strain) => {
      sum += Math.abs(strain);
      count++;
    });
    return sum / count;
  }
}

describe('cloth at any frame rate', () => {
  for (const fabric of ['Oilskin', 'Jersey knit', 'Chiffon']) {
    it(`waves alike: ${fabric}`, () => {
      const measured = Object.values(CLOCKS).map((clock) => wave(fabric, clock()));
      const hems = measured.map(({ hem }) => hem);
      const strains = measured.map(({ strain }) => strain);
      expect(Math.max(...hems) - Math.min(...hems)).below(0.003);
      expect(Math.max(...strains) / Math.min(...strains)).below(1.1);
      // It waved.
      expect(Math.max(...hems)).above(-0.498);
    });
  }
});
