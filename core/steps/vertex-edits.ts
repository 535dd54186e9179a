import { concatenate } from '../math/index.ts';
import { type CheckedMesh, sampleField } from '../mesh/index.ts';

/**
 * What was done by hand at the points of a section, kept beside a step by place on the surface: so it is found again when
 * the section is cut into other triangles.
 */
export interface VertexEdits {
  /** Numbers at each point. */
  width: number;
  /** Bind places of the points when the work was done, m, [n, 3], and faces over them. */
  positions: Float32Array;
  faces: Uint32Array;
  /** Non-zero where something was done. [n] */
  isSet: Uint8Array;
  /** [n, width] */
  values: Float32Array;
}

/** Nothing done yet. */
export function createVertexEdits(
  mesh: Pick<CheckedMesh, 'pointPositions' | 'faces'>,
  width: number,
): VertexEdits {
  const count = mesh.pointPositions.length / 3;
  return {
    width,
    positions: mesh.pointPositions,
    faces: mesh.faces,
    isSet: new Uint8Array(count),
    values: new Float32Array(count * width),
  };
}

/** As one row of numbers: counts of points and faces, width; places, faces, which are set, values. */
export function packVertexEdits({ width, positions, faces, isSet, values }: VertexEdits): Float32Array {
  return concatenate([[isSet.length, faces.length / 3, width], positions, faces, isSet, values]);
}

/** @returns null when the numbers are not those of handwork. */
export function unpackVertexEdits(packed: Float32Array | undefined): VertexEdits | null {
  if (!packed || packed.length < 3) return null;
  const [points, faces, width] = [packed[0]!, packed[1]!, packed[2]!];
  if (packed.length !== 3 + points * (4 + width) + 3 * faces) return null;
  let at = 3;
  const take = (length: number): Float32Array => packed.slice(at, (at += length));
  const positions = take(3 * points);
  const corners = Uint32Array.from(take(3 * faces));
  if (corners.some((corner) => corner >= points)) return null;
  return {
    width,
    positions,
    faces: corners,
    isSet: Uint8Array.from(take(points)),
    values: take(width * points),
  };
}

/**
 * The same work at other places: where more than half of what lies closest was worked on.
 * @param positions - Bind places, [p, 3].
 */
export function readVertexEdits(
  { width, positions: from, faces, isSet, values }: VertexEdits,
  positions: Float32Array,
): Pick<VertexEdits, 'isSet' | 'values'> {
  const source = { positions: from, triangles: faces };
  const shares = sampleField(source, isSet, 1, positions);
  return {
    isSet: Uint8Array.from(shares, (share) => (share > 0.5 ? 1 : 0)),
    values: sampleField(source, values, width, positions),
  };
}
