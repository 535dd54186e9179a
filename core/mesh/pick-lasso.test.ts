import { expect } from 'chai';
import { createCheckedMesh } from './health/index.ts';
import { computeMiddle, findSeenFaces, isInsideOutline } from './pick-lasso.ts';
import { createGrid, createTube } from './test-surfaces.ts';

describe('picking by an outline', () => {
  it('knows inside from outside, of bent and of crossing outlines', () => {
    const bent = [0, 0, 10, 0, 10, 10, 5, 2, 0, 10];
    expect(isInsideOutline(bent, 1, 5)).equal(true);
    expect(isInsideOutline(bent, 9, 5)).equal(true);
    expect(isInsideOutline(bent, 5, 5)).equal(false);
    expect(isInsideOutline(bent, 5, 1)).equal(true);
    expect(isInsideOutline(bent, -1, 5)).equal(false);
    // Crossed like a bow tie: inside on both sides of the knot.
    const bow = [0, 0, 10, 10, 10, 0, 0, 10];
    expect(isInsideOutline(bow, 1, 5)).equal(true);
    expect(isInsideOutline(bow, 9, 5)).equal(true);
    expect(isInsideOutline(bow, 5, 1)).equal(false);
    expect(isInsideOutline([], 0, 0)).equal(false);
  });

  it('sees the near half of a tube, and all of a sheet from both sides', () => {
    const tube = createTube(32, 10, () => 0.5);
    const mesh = createCheckedMesh({ ...tube, uvs: null });
    const seen = findSeenFaces(mesh, mesh.pointPositions, [0, -0.35, 10]);
    expect(seen.reduce((sum, one) => sum + one, 0)).within(0.4 * seen.length, 0.55 * seen.length);
    seen.forEach((one, f) => {
      const [, , z] = computeMiddle(mesh.faces, mesh.pointPositions, f);
      if (z > 0.1) expect(one).equal(1);
      if (z < -0.1) expect(one).equal(0);
    });
    const sheet = createCheckedMesh({ ...createGrid(8, 8, (u, v) => [u, v, 0]), uvs: null });
    for (const z of [5, -5])
      expect(findSeenFaces(sheet, sheet.pointPositions, [0.5, 0.5, z]).every((one) => one === 1)).equal(true);
  });

  it('takes the middle of a face as it is drawn, not as it was bound', () => {
    const sheet = createCheckedMesh({ ...createGrid(1, 1, (u, v) => [u, v, 0]), uvs: null });
    const moved = sheet.pointPositions.map((value, i) => (i % 3 === 2 ? 3 : value));
    expect(computeMiddle(sheet.faces, moved, 0)[2]).equal(3);
  });
});
