import type { Neighbours } from '../../mesh/index.ts';
import { type ChannelKind, limitValue } from '../channels/index.ts';
import { compareValues, type SparseChange } from '../sparse-change.ts';
import { computeSmoothAll } from '../whole-map.ts';
import { sampleAtPoints } from './sample.ts';
import type { UvMesh } from './uv-mesh.ts';

/** One channel of an image: 0 is black, 1 white. */
export interface GreyImage {
  width: number;
  height: number;
  /** [height, width], rows from the top. */
  levels: Float32Array;
  /** Of one grey step, 1/255 or 1/65535. */
  step: number;
}

export interface ReadMapOptions {
  kind: ChannelKind;
  /** Values that black and white stand for. */
  low: number;
  high: number;
  /** Rounds of smoothing over the mesh afterwards, held points held. Default 0. */
  soften?: number;
  mask?: Uint8Array | null;
}

/**
 * The change that an image makes to a map: each point takes what the image says at its place in the UVs. What is within
 * half a grey step of black is exactly `low`.
 *
 * Points that no triangle of the mesh uses (a lining that was left out, loose ones) keep their value.
 *
 * @throws {RangeError} When `high` is not above `low`.
 */
export function readMapImage(
  values: Float32Array,
  mesh: UvMesh,
  neighbours: Neighbours,
  image: GreyImage,
  { kind, low, high, soften = 0, mask = null }: ReadMapOptions,
): SparseChange {
  if (!(high > low)) throw new RangeError(`White (${high}) must stand for more than black (${low}).`);
  const shares = sampleAtPoints(mesh, image);
  const next = values.map((value, point) => {
    const share = shares[point]!;
    if (Number.isNaN(share)) return value;
    return limitValue(kind, share < image.step / 2 ? low : low + share * (high - low));
  });
  if (soften > 0) {
    const { indices, after } = computeSmoothAll(next, neighbours, 0.5, soften, { kind });
    indices.forEach((index, k) => {
      next[index] = after[k]!;
    });
  }
  return compareValues(values, next, mask);
}
