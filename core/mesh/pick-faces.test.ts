import { expect } from 'chai';
import { createCheckedMesh } from './health/index.ts';
import { growFaces, invertFaces, pickAround, pickIslands, pickPieces, shrinkFaces } from './pick-faces.ts';
import { createGrid } from './test-surfaces.ts';

/** Two sheets of 6 by 6 squares apart from each other; the first with its UVs cut in two halves. */
function createSheets() {
  const sheet = createGrid(6, 6, (u, v) => [u, v, 0]);
  const count = sheet.positions.length / 3;
  return createCheckedMesh({
    positions: Float32Array.from([
      ...sheet.positions,
      ...sheet.positions.map((value, i) => (i % 3 === 2 ? 1 : value)),
    ]),
    triangles: Uint32Array.from([...sheet.triangles, ...sheet.triangles.map((vertex) => vertex + count)]),
    uvs: null,
  });
}

const only = (count: number, ...faces: number[]): Uint8Array =>
  Uint8Array.from({ length: count }, (_, f) => (faces.includes(f) ? 1 : 0));
const list = (isPicked: Uint8Array): number[] => Array.from(isPicked.keys()).filter((f) => isPicked[f]);

describe('picking faces', () => {
  const mesh = createSheets();
  const count = mesh.faces.length / 3;

  it('grows by a ring, and shrinks back to what it was', () => {
    // A square in the middle of the first sheet: its two triangles.
    const square = only(count, 2 * 14, 2 * 14 + 1);
    const grown = growFaces(mesh, square);
    expect(list(grown).length).equal(18 - 2);
    expect(list(grown).every((f) => f < 72)).equal(true);
    expect(list(shrinkFaces(mesh, grown))).include.members([28, 29]);
    expect(list(shrinkFaces(mesh, square))).deep.equal([]);
    // Over the border there is nothing to shrink from.
    const whole = only(count, ...Array.from({ length: 72 }, (_, f) => f));
    expect(shrinkFaces(mesh, whole)).deep.equal(whole);
  });

  it('turns to its opposite, and to whole pieces and islands', () => {
    const one = only(count, 5);
    expect(list(invertFaces(one)).length).equal(count - 1);
    expect(list(pickPieces(mesh, one))).deep.equal(Array.from({ length: 72 }, (_, f) => f));
    expect(list(pickIslands(mesh, only(count, 100)))).deep.equal(
      Array.from({ length: 72 }, (_, f) => f + 72),
    );
    expect(list(pickPieces(mesh, new Uint8Array(count)))).deep.equal([]);
  });

  it('brushes along the surface, not through to the sheet behind', () => {
    const near = {
      ...mesh,
      positions: mesh.pointPositions.map((value, i) => (i % 3 === 2 ? 0.01 * value : value)),
    };
    const picked = pickAround(near, near.positions, 2 * 14, [0.45, 0.45, 0], 0.25);
    expect(picked.length).within(14, 40);
    expect(picked.every((f) => f < 72)).equal(true);
    expect(pickAround(near, near.positions, 3, [0.2, 0, 0], 0)).deep.equal([3]);
  });
});
