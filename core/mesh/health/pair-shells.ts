import { computeVertexNormals } from '../vertex-normals.ts';
import type { CheckedMesh } from './checked-mesh.ts';

/** The two sides of a garment lie at most this share of the spacing apart. */
const THICKNESS_SHARE = 1.2;
/** Normals of two sides: at least so opposed. Cosine. */
const OPPOSED = -0.5;

/** Answers are kept: several checks ask the same of a mesh. */
const knownOfMesh = new WeakMap<object, Int32Array>();

/**
 * The points of a two-sided garment's two shells that lie over each other: nearest to each other among those that
 * face the other way, with the partner behind.
 *
 * @returns point → partner, -1 without one. [points] O(n) expected.
 */
export function pairShells(
  mesh: Pick<CheckedMesh, 'pointPositions' | 'faces' | 'pointCount' | 'spacing'>,
): Int32Array {
  let partner = knownOfMesh.get(mesh);
  if (!partner) {
    const nearest = findNearestBehind(mesh);
    partner = nearest.map((q, p) => (q >= 0 && nearest[q] === p ? q : -1));
    knownOfMesh.set(mesh, partner);
  }
  return partner;
}

/** For each point the nearest one behind it that faces the other way, of equally near ones the lowest; -1: none. */
function findNearestBehind({
  pointPositions: x,
  faces,
  pointCount,
  spacing,
}: Pick<CheckedMesh, 'pointPositions' | 'faces' | 'pointCount' | 'spacing'>): Int32Array {
  const normals = computeVertexNormals(x, faces, new Float32Array(x.length));
  const reach = THICKNESS_SHARE * spacing;
  const cells = new PointCells(x, pointCount, reach);
  const nearest = new Int32Array(pointCount).fill(-1);
  for (let p = 0; p < pointCount; p++) {
    const [px, py, pz] = [x[3 * p]!, x[3 * p + 1]!, x[3 * p + 2]!];
    const [nx, ny, nz] = [normals[3 * p]!, normals[3 * p + 1]!, normals[3 * p + 2]!];
    let best = reach * reach;
    for (let i = 0; i < 27; i++) {
      const cell = cells.find(px, py, pz, (i % 3) - 1, (Math.floor(i / 3) % 3) - 1, Math.floor(i / 9) - 1);
      for (let k = cells.start[cell]!; k < cells.start[cell + 1]!; k++) {
        const q = cells.list[k]!;
        const dx = x[3 * q]! - px;
        const dy = x[3 * q + 1]! - py;
        const dz = x[3 * q + 2]! - pz;
        const squared = dx * dx + dy * dy + dz * dz;
        if (q === p || squared > best || (squared === best && !(q < nearest[p]!))) continue;
        if (nx * normals[3 * q]! + ny * normals[3 * q + 1]! + nz * normals[3 * q + 2]! > OPPOSED) continue;
        if (nx * dx + ny * dy + nz * dz >= 0) continue;
        best = squared;
        nearest[p] = q;
      }
    }
  }
  return nearest;
}

/** Points by the cells of a grid without end; several cells may share a place in the table. */
class PointCells {
  /** Points of entry c: `start[c]` to `start[c + 1]` in the list. */
  readonly start: Uint32Array;
  readonly list: Uint32Array;
  readonly #mask: number;
  readonly #perCell: number;

  constructor(positions: Float32Array, pointCount: number, cell: number) {
    let size = 16;
    while (size < 2 * pointCount) size *= 2;
    this.#mask = size - 1;
    this.#perCell = cell > 0 ? 1 / cell : 0;
    const cells = Uint32Array.from({ length: pointCount }, (_, p) =>
      this.find(positions[3 * p]!, positions[3 * p + 1]!, positions[3 * p + 2]!, 0, 0, 0),
    );
    this.start = new Uint32Array(size + 1);
    for (const c of cells) this.start[c + 1]!++;
    for (let c = 0; c < size; c++) this.start[c + 1] = this.start[c + 1]! + this.start[c]!;
    const fill = this.start.slice();
    this.list = new Uint32Array(pointCount);
    cells.forEach((c, p) => {
      this.list[fill[c]!++] = p;
    });
  }

  /** Entry of the cell so many cells beside that of a place. */
  find(x: number, y: number, z: number, dx: number, dy: number, dz: number): number {
    const per = this.#perCell;
    const hash =
      Math.imul(Math.floor(x * per) + dx, 73_856_093) ^
      Math.imul(Math.floor(y * per) + dy, 19_349_663) ^
      Math.imul(Math.floor(z * per) + dz, 83_492_791);
    return hash & this.#mask;
  }
}
