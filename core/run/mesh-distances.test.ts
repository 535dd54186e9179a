import { expect } from 'chai';
import { createRandom } from '../math/index.ts';
import { createTube } from '../mesh/test-surfaces.ts';
import { createRigidCharacter } from '../rig/index.ts';
import { createBodyMesh, MeshDistances } from './index.ts';

const RADIUS = 0.1;
const MARGIN = 0.004;

describe('distances from a body mesh', () => {
  const tube = createTube(96, 40, () => RADIUS);
  const section = createRigidCharacter('tube', tube.positions, tube.triangles).sections[0]!;
  const mesh = createBodyMesh({ ...section, skin: 0 });
  const distances = new MeshDistances(mesh, MARGIN);
  const random = createRandom(3);
  /** Around the middle of the tube, 0.7 m long from the origin down, and what its distance is there. */
  const places = Array.from({ length: 400 }, () => {
    const [angle, radius] = [2 * Math.PI * random(), 0.02 + 0.2 * random()];
    const place = [radius * Math.cos(angle), -0.25 - 0.2 * random(), radius * Math.sin(angle)] as const;
    return { place, wanted: radius - RADIUS - MARGIN };
  });

  it('are those of the round that it stands for, inside and out, and tell its normal', () => {
    for (const { place, wanted } of places) {
      expect(distances.measure(...place)).closeTo(wanted, 6e-4);
      const [nx, , nz] = distances.normal;
      const length = Math.hypot(place[0], place[2]);
      expect((nx * place[0] + nz * place[2]) / length).above(0.99);
    }
  });

  it('are told where they are less than another, and nothing where they are not', () => {
    for (const { place } of places) {
      const distance = distances.measure(...place);
      for (const beside of [-0.08, -0.01, -0.001, 0.001, 0.03]) {
        expect(distances.measureBelow(...place, distance - Math.abs(beside))).equal(Number.POSITIVE_INFINITY);
        expect(distances.measureBelow(...place, distance + Math.abs(beside))).equal(distance);
      }
    }
  });

  it('follow the places of a pose', () => {
    const posed = new Float32Array(4 * mesh.pointCount);
    for (let p = 0; p < mesh.pointCount; p++)
      for (let k = 0; k < 3; k++) posed[4 * p + k] = 2 * mesh.rows.positions[3 * p + k]!;
    const moved = new MeshDistances(mesh, 0);
    moved.pose(posed);
    expect(moved.measure(0, -0.7, 0)).closeTo(-2 * RADIUS, 1e-3);
    expect(moved.isWithin(0.21, -0.7, 0, 0.011)).equal(true);
    expect(moved.isWithin(0.21, -0.7, 0, 0.009)).equal(false);
  });
});
