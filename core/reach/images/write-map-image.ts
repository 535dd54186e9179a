import { bleed } from './bleed.ts';
import { rasterise } from './rasterise.ts';
import { createFootprint, findFootprint, listUsedVertices, sampleAtPoints } from './sample.ts';
import { refuseOverlap, type UvMesh } from './uv-mesh.ts';

/** Sizes of image that are offered, texels a side. */
export const IMAGE_SIZES = [512, 1024, 2048, 4096] as const;

export interface MapImageOptions {
  /** Texels a side, 16 to 8192. */
  size: number;
  depth: 8 | 16;
  /** Values that are black and white. */
  low: number;
  high: number;
  /** For messages. */
  name: string;
}

export interface MapImage {
  size: number;
  depth: 8 | 16;
  /** Grey levels, [size, size], rows from the top. */
  levels: Uint8Array | Uint16Array;
  /** How far off reading it back is at the worst vertex, in grey steps: away from seams, and at them. */
  worst: { away: number; atSeams: number };
  /** Values beyond black or white, which are cut off. */
  cutOff: number;
}

/**
 * Draws a map as a grey image in UV space, black for `low` and white for `high`, bled over seams.
 *
 * A bilinear sample at a vertex mixes four texels, and where the slope of a map changes at the vertex the mix is not the
 * vertex's value. So texels around vertices are nudged until reading the image gives the values back (projections onto
 * one vertex's equation after the other: S. Kaczmarz, *Angenäherte Auflösung von Systemen linearer Gleichungen*, Bull.
 * Acad. Polon. Sci. Lett. A35, 1937), and texels around vertices at `low` are black, so that what is held stays so.
 *
 * @param values - At the points of the mesh.
 * @throws {UvError} When UVs overlap. @throws {RangeError} When `high` is not above `low`.
 */
export function writeMapImage(mesh: UvMesh, values: Float32Array, options: MapImageOptions): MapImage {
  const { size, depth, low, high, name } = options;
  if (!(high > low)) throw new RangeError(`White (${high}) must stand for more than black (${low}).`);
  let cutOff = 0;
  const shares = values.map((value) => {
    const share = (value - low) / (high - low);
    if (share < -1e-6 || share > 1 + 1e-6) cutOff++;
    return Math.min(1, Math.max(0, share));
  });
  const coverage = rasterise(mesh, shares, size);
  refuseOverlap(mesh, name, coverage.covered, coverage.twice);
  bleed(coverage);
  const steps = 2 ** depth - 1;
  nudge(mesh, shares, coverage.texels, size, steps);
  const levels = depth === 8 ? new Uint8Array(size * size) : new Uint16Array(size * size);
  for (let i = 0; i < levels.length; i++) levels[i] = Math.round(steps * coverage.texels[i]!);
  return { size, depth, levels, worst: measureRoundTrip(mesh, shares, levels, size, steps), cutOff };
}

/** Rounds over all vertices at most; what is left then is told. */
const MOST_ROUNDS = 60;
/** A vertex is right when this near, in grey steps. */
const NEAR_ENOUGH = 0.2;

function nudge(mesh: UvMesh, shares: Float32Array, texels: Float32Array, size: number, steps: number): void {
  const vertices = listUsedVertices(mesh);
  const footprint = createFootprint();
  const isBlack = new Uint8Array(texels.length);
  const look = (vertex: number): void => {
    findFootprint(mesh.uvs[2 * vertex]!, mesh.uvs[2 * vertex + 1]!, size, size, footprint);
  };
  for (const vertex of vertices) {
    if (shares[mesh.pointOfVertex[vertex]!]! > 0) continue;
    look(vertex);
    for (let k = 0; k < 4; k++) {
      if (footprint.shares[k]! < 1e-9) continue;
      isBlack[footprint.texels[k]!] = 1;
      texels[footprint.texels[k]!] = 0;
    }
  }
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let isRight = true;
    for (const vertex of vertices) {
      const share = shares[mesh.pointOfVertex[vertex]!]!;
      if (share === 0) continue;
      look(vertex);
      let sum = 0;
      for (let k = 0; k < 4; k++) sum += footprint.shares[k]! * texels[footprint.texels[k]!]!;
      const missing = share - sum;
      /** Neither held black nor as dark or bright as it can be already. */
      const canMove = (texel: number): boolean =>
        !isBlack[texel] && (missing > 0 ? texels[texel]! < 1 : texels[texel]! > 0);
      let squares = 0;
      for (let k = 0; k < 4; k++) if (canMove(footprint.texels[k]!)) squares += footprint.shares[k]! ** 2;
      if (Math.abs(missing) * steps < NEAR_ENOUGH || squares < 1e-6) continue;
      isRight = false;
      for (let k = 0; k < 4; k++) {
        const texel = footprint.texels[k]!;
        if (!canMove(texel)) continue;
        const moved = texels[texel]! + (missing * footprint.shares[k]!) / squares;
        texels[texel] = Math.min(1, Math.max(0, moved));
      }
    }
    if (isRight) return;
  }
}

function measureRoundTrip(
  mesh: UvMesh,
  shares: Float32Array,
  levels: Uint8Array | Uint16Array,
  size: number,
  steps: number,
): MapImage['worst'] {
  const read = sampleAtPoints(mesh, { width: size, height: size, levels });
  const isSeam = findSeamPoints(mesh);
  const worst = { away: 0, atSeams: 0 };
  read.forEach((level, point) => {
    if (Number.isNaN(level)) return;
    const key = isSeam[point] ? 'atSeams' : 'away';
    worst[key] = Math.max(worst[key], Math.abs(level - steps * shares[point]!));
  });
  return worst;
}

/** Points that several vertices of a mesh stand for. [points] */
export function findSeamPoints(mesh: UvMesh): Uint8Array {
  const counts = new Uint8Array(mesh.pointCount);
  for (const vertex of listUsedVertices(mesh)) {
    const point = mesh.pointOfVertex[vertex]!;
    counts[point] = Math.min(2, counts[point]! + 1);
  }
  return counts.map((count) => (count > 1 ? 1 : 0));
}
