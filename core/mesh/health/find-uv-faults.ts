import { DisjointSets, percentile } from '../../math/index.ts';
import type { CheckedMesh } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** An island with less of the garment's area than this is too small to paint on. */
const TINY_SHARE = 0.002;
/** Cells of the grid that overlaps are counted in, a side. */
const GRID = 512;

/** What would spoil painting on images and the directions of warp and weft. */
export function findUvFaults(mesh: CheckedMesh): MeshFinding[] {
  if (!mesh.uvs) {
    return [
      {
        kind: 'uvMissing',
        severity: 'note',
        count: 1,
        vertices: new Uint32Array(0),
        measured: 0,
        limit: 1,
        unit: 'UV sets',
        sentence: 'There are no UVs: warp runs along the vertical, and images cannot be brought in.',
        fix: null,
      },
    ];
  }
  return [
    findOverlap(mesh, mesh.uvs),
    findFlips(mesh, mesh.uvs),
    findStretch(mesh, mesh.uvs),
    findTinyIslands(mesh),
  ].filter((finding) => finding !== null);
}

/** Twice the signed area in UV space. */
function computeUvArea(uvs: Float32Array, a: number, b: number, c: number): number {
  return (
    (uvs[2 * b]! - uvs[2 * a]!) * (uvs[2 * c + 1]! - uvs[2 * a + 1]!) -
    (uvs[2 * c]! - uvs[2 * a]!) * (uvs[2 * b + 1]! - uvs[2 * a + 1]!)
  );
}

function cornersOf({ triangles }: CheckedMesh, t: number): [number, number, number] {
  return [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
}

/** Counts the triangles over the middle of each cell of a grid over the UVs. */
function findOverlap(mesh: CheckedMesh, uvs: Float32Array): MeshFinding | null {
  const [low, size] = measureUvBox(uvs);
  const first = new Int32Array(GRID * GRID).fill(-1);
  const overlapping = new Set<number>();
  let covered = 0;
  let twice = 0;
  const counted = new Uint8Array(GRID * GRID);
  for (const t of mesh.triangleOfFace) {
    const [a, b, c] = cornersOf(mesh, t);
    forEachCell(
      [a, b, c].map(
        (v): UvPlace => [(GRID * (uvs[2 * v]! - low[0])) / size, (GRID * (uvs[2 * v + 1]! - low[1])) / size],
      ),
      (cell) => {
        if (first[cell]! < 0) {
          first[cell] = t;
          covered++;
          return;
        }
        overlapping.add(t);
        overlapping.add(first[cell]!);
        if (!counted[cell]) twice++;
        counted[cell] = 1;
      },
    );
  }
  const share = covered > 0 ? twice / covered : 0;
  if (100 * share <= mesh.limits.uvOverlap) return null;
  return {
    kind: 'uvOverlap',
    severity: 'warning',
    count: overlapping.size,
    vertices: Uint32Array.from(new Set([...overlapping].flatMap((t) => cornersOf(mesh, t)))),
    measured: 100 * share,
    limit: mesh.limits.uvOverlap,
    unit: '% of the UV area',
    sentence: `${overlapping.size} triangles share UV area with others: an image would paint both.`,
    fix: null,
  };
}

function measureUvBox(uvs: Float32Array): [[number, number], number] {
  const low: [number, number] = [Infinity, Infinity];
  const high: [number, number] = [-Infinity, -Infinity];
  for (let i = 0; i < uvs.length; i++) {
    low[i % 2] = Math.min(low[i % 2]!, uvs[i]!);
    high[i % 2] = Math.max(high[i % 2]!, uvs[i]!);
  }
  return [low, Math.max(high[0] - low[0], high[1] - low[1], 1e-9)];
}

type UvPlace = readonly [number, number];

/** Cells of the grid whose middle lies within a triangle by more than a hair: neighbours do not share a middle. */
function forEachCell(corners: readonly UvPlace[], each: (cell: number) => void): void {
  const [[ax, ay], [bx, by], [cx, cy]] = corners as [UvPlace, UvPlace, UvPlace];
  const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
  if (area === 0) return;
  const x0 = Math.max(0, Math.floor(Math.min(ax, bx, cx)));
  const x1 = Math.min(GRID - 1, Math.floor(Math.max(ax, bx, cx)));
  const y0 = Math.max(0, Math.floor(Math.min(ay, by, cy)));
  const y1 = Math.min(GRID - 1, Math.floor(Math.max(ay, by, cy)));
  for (let y = y0; y <= y1; y++) {
    for (let x = x0; x <= x1; x++) {
      const [mx, my] = [x + 0.5, y + 0.5];
      const inside = Math.min(
        ((bx - ax) * (my - ay) - (by - ay) * (mx - ax)) / area,
        ((cx - bx) * (my - by) - (cy - by) * (mx - bx)) / area,
        ((ax - cx) * (my - cy) - (ay - cy) * (mx - cx)) / area,
      );
      if (inside > 1e-6) each(y * GRID + x);
    }
  }
}

function findFlips(mesh: CheckedMesh, uvs: Float32Array): MeshFinding | null {
  const signs = Array.from(mesh.triangleOfFace, (t) => Math.sign(computeUvArea(uvs, ...cornersOf(mesh, t))));
  // Whole islands may be mirrored, to share an image; a part of one may not.
  const flipped = listUvIslands(mesh).flatMap((faces) => {
    const turned = faces.filter((f) => signs[f]! < 0).length;
    const minority = 2 * turned > faces.length ? 1 : -1;
    return faces.filter((f) => signs[f] === minority).map((f) => mesh.triangleOfFace[f]!);
  });
  if (flipped.length === 0) return null;
  return {
    kind: 'uvFlip',
    severity: 'note',
    count: flipped.length,
    vertices: Uint32Array.from(new Set(flipped.flatMap((t) => cornersOf(mesh, t)))),
    measured: (100 * flipped.length) / signs.length,
    limit: 0,
    unit: '% of the triangles',
    sentence: `${flipped.length} triangles are mirrored in the UVs against the rest of their island.`,
    fix: null,
  };
}

/** How much longer a triangle is drawn along one direction of the UVs than the other. */
function findStretch(mesh: CheckedMesh, uvs: Float32Array): MeshFinding | null {
  const ratios = Array.from(mesh.triangleOfFace, (t) =>
    measureStretch(mesh.positions, uvs, cornersOf(mesh, t)),
  );
  const measured = percentile(ratios.filter(Number.isFinite), 0.95);
  const limit = mesh.limits.uvStretch;
  if (measured <= limit) return null;
  const stretched = Array.from(mesh.triangleOfFace).filter((_, f) => !(ratios[f]! <= limit));
  return {
    kind: 'uvStretch',
    severity: 'note',
    count: stretched.length,
    vertices: Uint32Array.from(new Set(stretched.flatMap((t) => cornersOf(mesh, t)))),
    measured,
    limit,
    unit: 'times longer one way',
    sentence: `${stretched.length} triangles are stretched in the UVs: a painted image comes out drawn there.`,
    fix: null,
  };
}

/** Ratio of the singular values of the map from UVs to space; Infinity without a UV area. */
function measureStretch(p: Float32Array, uvs: Float32Array, [a, b, c]: [number, number, number]): number {
  const area = computeUvArea(uvs, a, b, c);
  if (area === 0) return Number.POSITIVE_INFINITY;
  const [ub, uc] = [uvs[2 * b]! - uvs[2 * a]!, uvs[2 * c]! - uvs[2 * a]!];
  const [vb, vc] = [uvs[2 * b + 1]! - uvs[2 * a + 1]!, uvs[2 * c + 1]! - uvs[2 * a + 1]!];
  let [ss, st, tt] = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const toB = p[3 * b + k]! - p[3 * a + k]!;
    const toC = p[3 * c + k]! - p[3 * a + k]!;
    const alongU = (toB * vc - toC * vb) / area;
    const alongV = (toC * ub - toB * uc) / area;
    ss += alongU * alongU;
    st += alongU * alongV;
    tt += alongV * alongV;
  }
  const half = Math.sqrt(((ss - tt) / 2) ** 2 + st * st);
  const [most, least] = [(ss + tt) / 2 + half, (ss + tt) / 2 - half];
  return least > 0 ? Math.sqrt(most / least) : Number.POSITIVE_INFINITY;
}

function findTinyIslands(mesh: CheckedMesh): MeshFinding | null {
  const islands = listUvIslands(mesh);
  const areaOf = (faces: number[]): number => faces.reduce((sum, f) => sum + mesh.areas[f]!, 0);
  const whole = mesh.areas.reduce((sum, area) => sum + area, 0);
  const tiny = islands.filter((faces) => areaOf(faces) < TINY_SHARE * whole);
  if (tiny.length === 0) return null;
  return {
    kind: 'uvTinyIsland',
    severity: 'note',
    count: tiny.length,
    vertices: Uint32Array.from(new Set(tiny.flat().flatMap((f) => cornersOf(mesh, mesh.triangleOfFace[f]!)))),
    measured: (100 * Math.min(...tiny.map(areaOf))) / whole,
    limit: 100 * TINY_SHARE,
    unit: '% of the area',
    sentence: `${tiny.length} UV islands are so small that an image hardly reaches them.`,
    fix: null,
  };
}

/** Faces joined over vertices, which UV seams take apart. */
export function listUvIslands(mesh: CheckedMesh): number[][] {
  const sets = new DisjointSets(mesh.positions.length / 3);
  for (const t of mesh.triangleOfFace) {
    const [a, b, c] = cornersOf(mesh, t);
    sets.join(a, b);
    sets.join(a, c);
  }
  const islands = new Map<number, number[]>();
  mesh.triangleOfFace.forEach((t, f) => {
    const island = sets.find(mesh.triangles[3 * t]!);
    const faces = islands.get(island);
    if (faces) faces.push(f);
    else islands.set(island, [f]);
  });
  return [...islands.values()];
}
