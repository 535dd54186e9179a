import { cross, type MutableVector3, type SpatialIndex, subtract, type Vector3 } from '../../math/index.ts';
import type { Surface } from '../surface.ts';
import { facesAlike, normalOfSource } from './places.ts';

/** How far around its middle a triangle looks for source that faces along with it, as a share of its longest edge. */
const KNIFE_EDGE = 0.5;

/**
 * Whether a triangle faces away from all of the source within half its longest edge of its middle. Where a part is thinner than that, both
 * sides are as near.
 *
 * @param index - Of the source.
 */
export function isTurned(source: Surface, index: SpatialIndex, a: Vector3, b: Vector3, c: Vector3): boolean {
  const [u, v] = [subtract(b, a), subtract(c, a)];
  const n = cross(u, v);
  const middle = [0, 1, 2].map((k) => a[k]! + (u[k]! + v[k]!) / 3) as MutableVector3;
  const closest = index.findClosest(...middle);
  if (!closest || facesAlike(n, normalOfSource(source, closest.triangle), 0)) return false;
  const longest = Math.max(measure(u), measure(v), measure(subtract(c, b)));
  return !index.hasWithin(...middle, closest.distance + KNIFE_EDGE * longest, (other) =>
    facesAlike(n, normalOfSource(source, other), 0),
  );
}

function measure([x, y, z]: Vector3): number {
  return Math.sqrt(x * x + y * y + z * z);
}
