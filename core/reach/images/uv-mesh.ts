import { weldPoints } from '../../mesh/index.ts';
import type { Section } from '../../rig/index.ts';

/** A mesh as an image sees it. UVs have their origin at the upper left, v downward. */
export interface UvMesh {
  /** [v, 2] */
  uvs: Float32Array;
  /** Over vertices, [t, 3]. */
  triangles: Uint32Array;
  /** Welded vertex of each vertex. [v] */
  pointOfVertex: Uint32Array;
  pointCount: number;
}

/** Why no image can be made of a garment, where that is, and what to do. */
export class UvError extends RangeError {
  override readonly name = 'UvError';
  constructor(
    readonly code: 'missing' | 'outside' | 'overlap',
    message: string,
    /** Vertices there; empty when it is about the whole. */
    readonly vertices: Uint32Array = new Uint32Array(0),
  ) {
    super(message);
  }
}

/** UVs this far beyond the square are rounding. */
const SLACK = 1e-4;
/** Places of UVs are told with so many of the vertices. */
const MOST_TOLD = 500;

/**
 * The mesh of a section for images.
 *
 * @param isLining - Points that ride on others: triangles among them alone are left out, as the two sides of a garment
 *   usually share their UVs and an image cannot tell them apart. [points]
 * @throws {UvError} Without UVs, or with UVs outside the square that an image covers.
 */
export function createUvMesh(
  section: Pick<Section, 'positions' | 'uvs' | 'triangles' | 'name'>,
  isLining: Uint8Array | null = null,
): UvMesh {
  const { uvs, name } = section;
  if (!uvs)
    throw new UvError(
      'missing',
      `"${name}" has no UVs. Unwrap it in the modelling program and bring it in again.`,
    );
  const { pointOfVertex, pointCount } = weldPoints(section.positions);
  const triangles = isLining ? dropLining(section.triangles, pointOfVertex, isLining) : section.triangles;
  const outside = [...new Set(triangles)].filter((vertex) =>
    [uvs[2 * vertex]!, uvs[2 * vertex + 1]!].some((value) => !(value >= -SLACK && value <= 1 + SLACK)),
  );
  if (outside.length > 0) {
    const first = outside[0]!;
    throw new UvError(
      'outside',
      `${outside.length} vertices of "${name}" have UVs outside the square from 0 to 1 that an image covers, ` +
        `the first at (${uvs[2 * first]!.toFixed(3)}, ${uvs[2 * first + 1]!.toFixed(3)}). Move its islands into the square.`,
      Uint32Array.from(outside.slice(0, MOST_TOLD)),
    );
  }
  return { uvs, triangles, pointOfVertex, pointCount };
}

function dropLining(triangles: Uint32Array, pointOfVertex: Uint32Array, isLining: Uint8Array): Uint32Array {
  const kept: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    if (!corners.every((vertex) => isLining[pointOfVertex[vertex]!])) kept.push(...corners);
  }
  return Uint32Array.from(kept);
}

/** More than this share of what is covered lying under two triangles is an overlap, not rounding along edges. */
const MOST_OVERLAP = 0.001;

/** @throws {UvError} When triangles share UV area. @param twice - Pairs of triangles found over one texel. */
export function refuseOverlap(
  mesh: UvMesh,
  name: string,
  covered: number,
  twice: readonly (readonly [first: number, second: number])[],
): void {
  if (twice.length <= Math.max(4, MOST_OVERLAP * covered)) return;
  const triangles = new Set(twice.flat());
  const vertices = new Set([...triangles].flatMap((t) => [...mesh.triangles.subarray(3 * t, 3 * t + 3)]));
  const [first] = vertices;
  throw new UvError(
    'overlap',
    `${triangles.size} triangles of "${name}" share UV area with others ` +
      `(${((100 * twice.length) / covered).toFixed(1)} % of it, the first at (${mesh.uvs[2 * first!]!.toFixed(3)}, ` +
      `${mesh.uvs[2 * first! + 1]!.toFixed(3)})): one texel would stand for two places. Lay the islands out apart.`,
    Uint32Array.from([...vertices].slice(0, MOST_TOLD)),
  );
}
