import { type Surface, sampleField } from '../mesh/index.ts';
import { packSurface, unpackSurface } from './pack-surface.ts';

/** An edge between points of at least this share is made round. */
const ROUNDED_FROM = 0.5;

/** What an inside is made by, at the points of a mesh. */
export interface LiningMaps {
  /** m, [points]. */
  thickness: Float32Array;
  /** Non-zero: an edge there may be rounded. [points] */
  isRounded: Uint8Array;
}

/**
 * Maps of thickness (m) and of rounded edges (shares), with the surface that they were painted on: they are read by place, so
 * that another mesh of the same garment can be made by them.
 *
 * @param surface - World space of the bind pose. @param thickness - [points]. @param rounded - [points].
 */
export function packLiningMaps(
  surface: Surface,
  thickness: Float32Array,
  rounded: Float32Array,
): Float32Array {
  const packed = packSurface(surface);
  const all = new Float32Array(packed.length + thickness.length + rounded.length);
  all.set(packed);
  all.set(thickness, packed.length);
  all.set(rounded, packed.length + thickness.length);
  return all;
}

/** @param positions - Of the points to be made behind, [points, 3]. @throws {RangeError} When the numbers are not such maps. */
export function readLiningMaps(packed: Float32Array | undefined, positions: Float32Array): LiningMaps {
  const points = packed?.[0] ?? 0;
  const surface = packed && points > 0 ? unpackSurface(packed.subarray(0, packed.length - 2 * points)) : null;
  if (!packed || !surface) throw new RangeError('its maps of thickness are not there');
  const values = packed.subarray(packed.length - 2 * points);
  const sample = (from: number): Float32Array =>
    sampleField(surface, values.subarray(from, from + points), 1, positions);
  return {
    thickness: sample(0),
    isRounded: Uint8Array.from(sample(points), (value) => (value >= ROUNDED_FROM ? 1 : 0)),
  };
}
