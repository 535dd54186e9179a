import { expect } from 'chai';
import { createCheckedMesh } from '../mesh/index.ts';
import { createGrid } from '../mesh/test-surfaces.ts';
import { shapeCharacter } from '../rig/index.ts';
import { checkShapes, createHandMesh, measureHold, smoothPositions } from './index.ts';
import { createWardrobe } from './test-wardrobe.ts';

/** A sheet of 1 m folded over, its halves 1 cm apart. */
function createFolded(): ReturnType<typeof createCheckedMesh> {
  const sheet = createGrid(20, 40, (u, v) => [u, v < 0.5 ? v : 1 - v, v < 0.5 ? 0 : 0.01]);
  return createCheckedMesh({ ...sheet, uvs: null });
}

describe('a hand on the cloth', () => {
  it('holds by the way along the surface: what lies behind stays', () => {
    const mesh = createFolded();
    const hand = createHandMesh(mesh);
    const [front, back] = [21 * 2 + 10, 21 * 38 + 10];
    const hold = measureHold(hand, mesh.pointPositions, front, 0.2, 'smooth');
    expect(hold[front]).equal(1);
    expect(hold[front + 1]).within(0.5, 0.99);
    expect(hold[back]).equal(0);
    expect(hold.filter((share) => share > 0).length).within(60, 140);
  });

  it('smooths a bump down, and keeps hems where they run', () => {
    const sheet = createGrid(10, 10, (u, v) => [u, v, 0]);
    sheet.positions[3 * 60 + 2] = 0.1;
    const mesh = createCheckedMesh({ ...sheet, uvs: null });
    const hand = createHandMesh(mesh);
    const positions = mesh.pointPositions.slice();
    for (let i = 0; i < 10; i++) smoothPositions(hand, positions, new Float32Array(121).fill(0.5));
    expect(positions[3 * 60 + 2]).below(0.02);
    for (let i = 0; i <= 10; i++) {
      expect(positions[3 * i + 1]).closeTo(0, 1e-6);
      expect(positions[3 * (110 + i) + 1]).closeTo(1, 1e-6);
    }
    const still = mesh.pointPositions.slice();
    smoothPositions(hand, still, new Float32Array(121));
    expect(still).deep.equal(mesh.pointPositions);
  });
});

describe('the fit on the shapes of the body', () => {
  it('is told for the body as it is and at each extreme', () => {
    const character = createWardrobe();
    const leg = character.sections[0]!;
    // In its own space the leg runs along y, half as large as in the world.
    const grow = (by: number): Float32Array =>
      leg.positions.map((value, i) => (i % 3 === 1 ? 0 : by * value));
    const morphs = [
      { name: 'stout', positions: grow(0.6), normals: null },
      { name: 'thin', positions: grow(-0.2), normals: null },
    ];
    const shapely = {
      ...character,
      sections: [{ ...leg, morphs, morphWeights: Float32Array.of(0, 0) }, character.sections[1]!],
    };
    const [asIs, stout, thin] = checkShapes(shapely, 1, [0]);
    expect(asIs).deep.equal({ name: null, sunk: 0, deepest: 0 });
    expect(stout!.name).equal('stout');
    expect(stout!.sunk).above(100);
    expect(stout!.deepest).closeTo(0.04, 0.01);
    expect(thin).deep.equal({ name: 'thin', sunk: 0, deepest: 0 });
    // Whatever shape is looked at now.
    expect(checkShapes(shapeCharacter(shapely, { stout: 1 }), 1, [0])).deep.equal([asIs, stout, thin]);
    expect(checkShapes(character, 1, [0])).deep.equal([]);
  });
});
