import { expect } from 'chai';
import { remesh } from '../mesh/index.ts';
import { createGrid } from '../mesh/test-surfaces.ts';
import { createRigidCharacter } from '../rig/index.ts';
import { compileGarment } from './compiled-garment.ts';
import { LIBRARY_FABRICS } from './fabric-library.ts';
import { KernelSolver } from './kernel/kernel-solver.ts';
import { STILL } from './test-hang.ts';

const LENGTH = 0.6;

/** Mean place of the hem, [y, z], every tenth frame: a piece held at its top and let go at an angle (rad). */
function trackHem(
  edgeLength: number,
  fabric: string,
  angle: number,
  heldLength: number,
  frames: number,
): number[][] {
  const surface = remesh(
    createGrid(40, 60, (u, v) => [0.4 * u + 0.1, 0, LENGTH * v]),
    { edgeLength },
  );
  const character = createRigidCharacter('piece', surface.positions, surface.triangles);
  const uvs = new Float32Array((2 * surface.positions.length) / 3);
  for (let i = 0; i < uvs.length / 2; i++)
    uvs.set([surface.positions[3 * i]!, surface.positions[3 * i + 2]!], 2 * i);
  character.sections[0]!.uvs = uvs;
  const garment = compileGarment(character, 0);
  const { restPositions: rest, pointCount, weldedOfPoint } = garment;
  const { settings } = LIBRARY_FABRICS.find(({ name }) => name === fabric)!;
  const solver = new KernelSolver(garment, { ...settings, substepsPerSecond: 720, selfDistance: 0 });
  const free = new Float32Array(pointCount);
  weldedOfPoint.forEach((welded, i) => {
    free[welded] = rest[4 * i + 2]! <= heldLength ? 0 : 10;
  });
  solver.setMaxDistances(free);
  const targets = new Float32Array(4 * pointCount);
  for (let i = 0; i < pointCount; i++) {
    const down = rest[4 * i + 2]!;
    targets.set([rest[4 * i]!, -down * Math.cos(angle), down * Math.sin(angle)], 4 * i);
  }
  solver.reset(targets, STILL);
  const hem = Array.from({ length: pointCount }, (_, i) => i).filter((i) => rest[4 * i + 2]! > LENGTH - 1e-4);
  const track: number[][] = [];
  for (let frame = 0; frame < frames; frame++) {
    solver.step(1 / 60, targets, STILL);
    if (frame % 10 < 9) continue;
    track.push([1, 2].map((k) => hem.reduce((sum, i) => sum + solver.positions[4 * i + k]!, 0) / hem.length));
  }
  return track;
}

describe('one fabric on meshes of three densities, 1 : 4 : 16 points', function () {
  this.timeout(240_000);
  for (const fabric of ['Oilskin', 'Denim']) {
    for (const [how, angle, held, frames, from] of [
      ['drapes', Math.PI / 2, 0.1, 240, 23],
      ['swings', 0.4, 0.001, 90, 0],
    ] as const) {
      it(`${fabric} ${how} alike: the hem within 5 % of the length of the piece ${from > 0 ? 'at rest' : 'at every time'}`, () => {
        const tracks = [0.06, 0.03, 0.015].map((edgeLength) =>
          trackHem(edgeLength, fabric, angle, held, frames),
        );
        // It did move.
        expect(Math.abs(tracks[0]![0]![1]! - tracks[0]![3]![1]!)).above(0.1);
        for (const track of tracks) {
          track.forEach((position, i) => {
            if (i < from) return;
            const off = Math.hypot(position[0]! - tracks[1]![i]![0]!, position[1]! - tracks[1]![i]![1]!);
            expect(off, `after ${(i + 1) / 6} s`).below(0.05 * LENGTH);
          });
        }
      });
    }
  }
});
