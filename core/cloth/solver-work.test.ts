import { expect } from 'chai';
import type { CollisionShape } from '../bodies/index.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { SELF_SEARCH } from './kernel/assembly/constants.ts';
import { createSheet } from './test-cloth.ts';
import { FRAME, hang, poseShapes } from './test-hang.ts';
import { STILL_AIR } from './wind.ts';

const ball = (height: number, radius: number): CollisionShape => ({
  kind: 'sphere',
  node: 0,
  a: [0, height, 0],
  b: [0, height, 0],
  radiusA: radius,
  radiusB: radius,
});

/** A level sheet of 15 × 15 vertices over bodies. */
function play(fabric: Partial<FabricSettings>, shapes: readonly CollisionShape[], frames = 1) {
  const sheet = createSheet(14, 14, (u, v) => [0.5 * u - 0.25, 0, 0.5 * v - 0.25]);
  const solver = hang('kernel', sheet, { substepsPerSecond: 360, ...fabric }, () => 1e6);
  const bodies = poseShapes(shapes);
  solver.reset(solver.garment.restPositions, { bodies });
  solver.takeWork();
  for (let f = 0; f < frames; f++)
    solver.step(FRAME, solver.garment.restPositions, { wind: STILL_AIR, bodies });
  return { solver, work: solver.takeWork() };
}

describe('what a solver counts', () => {
  it('is what follows from sizes and settings: edges, terms, vertices by substeps and passes', () => {
    const { solver, work } = play(
      { iterations: 3, edgeDamping: 1, compressionRange: 0.1, airDrag: 1 },
      [],
      2,
    );
    const { counts } = work;
    const slots = solver.garment.stretchRest.length;
    expect(counts.frames).equal(2);
    expect(counts.substeps).equal(12);
    expect(counts.edges).equal(slots * 12 * 3);
    expect(counts.dampedEdges).equal(2 * slots);
    expect(counts.checkedEdges).at.least(2 * slots);
    // Threads are looked at once a frame, and slide in every substep.
    expect(counts.slidingEdges).equal(slots * (12 + 2));
    expect(counts.vertices).equal(solver.garment.rowCount * 12);
    expect(counts.airTriangles).equal((2 * solver.garment.triangles.length) / 3);
    expect([counts.bodies, counts.selfLooks, counts.layerVertices, counts.gustTriangles]).deep.equal([
      0, 0, 0, 0,
    ]);
    // Then it starts anew.
    expect(solver.takeWork().counts.edges).equal(0);
  });

  it('tells of each body whether a block came near it: none of one far away, all of one around everything', () => {
    const { solver, work } = play({}, [ball(-5, 0.1), ball(0, 3)]);
    const rows = solver.garment.rowCount;
    expect(work.bodies.map(({ tested }) => tested)).deep.equal([0, 6 * rows]);
    expect(work.bodies[0]!.touched).equal(0);
    expect(work.counts.bodyVertices).equal(6 * rows);
    expect(work.counts.bodyBlocks).equal((2 * 6 * rows) / 16);
    expect(work.counts.bodies).equal(12);
  });

  it('counts as touched at least the vertices that lie on a body, by fours, and no more than were tested', () => {
    const { solver, work } = play({ thickness: 0.004 }, [ball(-0.1, 0.102)], 20);
    const { positions, garment } = solver;
    let lying = 0;
    for (let p = 0; p < garment.pointCount; p++) {
      const [x, y, z] = [positions[4 * p]!, positions[4 * p + 1]! + 0.1, positions[4 * p + 2]!];
      if (Math.hypot(x, y, z) < 0.102 + 0.0045) lying++;
    }
    const [body] = work.bodies;
    expect(lying).above(3);
    expect(body!.touched / (20 * 6)).within(lying / 4, body!.tested / (20 * 6));
    expect(body!.touched % 4).equal(0);
  });

  it('counts planes of a box by the vertices they are compared with', () => {
    const box: CollisionShape = {
      kind: 'box',
      node: 0,
      centre: [0, 0, 0],
      rotation: [0, 0, 0, 1],
      halfSize: [3, 3, 3],
    };
    const { solver, work } = play({}, [box]);
    // Six planes.
    expect(work.counts.planeVertices).equal(6 * 6 * solver.garment.rowCount);
    expect(work.counts.bodyVertices).equal(0);
  });

  it('counts the pairs of self-collision that comparing all with all finds', () => {
    // A narrow fold: two leaves 3 cm apart.
    const fold = createSheet(24, 24, (u, v) => [
      0.4 * v,
      u < 0.5 ? 0.6 * u : 0.6 * (1 - u),
      u < 0.5 ? 0 : 0.03,
    ]);
    const selfDistance = 0.045;
    const solver = hang('kernel', fold, { selfDistance, substepsPerSecond: 240, gravityScale: 0 }, () => 1e6);
    solver.reset(solver.garment.restPositions, { bodies: poseShapes([]) });
    const x = solver.positions;
    const { pointCount } = solver.garment;
    // They lie at rest as they are: what is nearer than the distance then is not kept apart.
    let near = 0;
    for (let i = 0; i < pointCount; i++) {
      let own = 0;
      for (let j = 0; j < i; j++) {
        const [dx, dy, dz] = [0, 1, 2].map((k) => x[4 * i + k]! - x[4 * j + k]!) as [number, number, number];
        const squared = Math.fround(dx * dx + dy * dy + dz * dz);
        if (squared < (SELF_SEARCH * selfDistance) ** 2 && squared >= selfDistance ** 2) own++;
      }
      // So many are kept at most.
      near += Math.min(16, own);
    }
    solver.takeWork();
    solver.step(FRAME, solver.garment.restPositions, { wind: STILL_AIR, bodies: poseShapes([]) });
    const { counts } = solver.takeWork();
    expect(near).above(1000);
    // A few are at the very limit, to the last bit.
    expect(counts.selfPairs / 4).closeTo(near, 0.01 * near);
    expect(counts.selfLooks).at.least(counts.selfPairs / 4);
    expect(counts.selfPresses).at.most(counts.selfPairs);
  });

  it('is the same for the same frames, and does not change them', () => {
    const [a, b] = [
      play({ selfDistance: 0.05 }, [ball(-0.1, 0.08)], 12),
      play({ selfDistance: 0.05 }, [ball(-0.1, 0.08)], 12),
    ];
    expect(a.work).deep.equal(b.work);
    expect(a.solver.positions).deep.equal(b.solver.positions);
  });
});
