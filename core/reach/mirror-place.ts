import { SpatialIndex } from '../math/index.ts';
import { measureOnTriangle, type Surface } from '../mesh/index.ts';

/** A place on a surface: corners of a triangle there, with shares that sum to one. */
export interface PositionOnSurface {
  corners: readonly [number, number, number];
  shares: readonly [number, number, number];
}

/** Farther from the mirrored place (m) there is no other side. */
const MOST_GAP = 0.05;

/**
 * Finds the place on the other side of a garment: mirrored in bind pose across the character's middle (x = 0), so that it
 * holds in any pose, whether or not the mesh itself is symmetric.
 */
export class Mirror {
  readonly #surface: Surface;
  readonly #index: SpatialIndex;

  /** @param surface - In bind pose, world space, metres; the left of the character at positive x. */
  constructor(surface: Surface) {
    this.#surface = surface;
    this.#index = new SpatialIndex(surface.positions.slice(), surface.triangles);
  }

  /** @returns Null when the garment has nothing there. */
  find({ corners, shares }: PositionOnSurface): PositionOnSurface | null {
    const { positions, triangles } = this.#surface;
    const at = (axis: number): number =>
      corners.reduce((sum, corner, c) => sum + shares[c]! * positions[3 * corner + axis]!, 0);
    const closest = this.#index.findClosest(-at(0), at(1), at(2), MOST_GAP);
    if (!closest) return null;
    const t = 3 * closest.triangle;
    const mirrored = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!] as const;
    const { weights } = measureOnTriangle(positions, 3, mirrored, closest.point);
    return { corners: mirrored, shares: weights as [number, number, number] };
  }
}

/** Values of one side of a garment for the other, point by point: those at x above 0 count, or those below. */
export function mirrorValues(surface: Surface, values: Float32Array, from: 'left' | 'right'): Float32Array {
  const mirror = new Mirror(surface);
  const side = from === 'left' ? 1 : -1;
  return values.map((value, point) => {
    if (side * surface.positions[3 * point]! >= 0) return value;
    const position = mirror.find({ corners: [point, point, point], shares: [1, 0, 0] });
    if (!position) return value;
    return position.corners.reduce((sum, corner, c) => sum + position.shares[c]! * values[corner]!, 0);
  });
}
