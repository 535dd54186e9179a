import { computeSurfaceDistance } from '../mesh/index.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import { NO_TETHER } from './solver-state.ts';

export interface Tethers {
  /** The held point that each point is tethered to; itself where there is none. [n] */
  anchors: Uint32Array;
  /** Way to it along the cloth at rest, m; `NO_TETHER` where there is none. [n] */
  lengths: Float32Array;
}

/**
 * A tether from every free point to the held point that is nearest along the cloth. It keeps a long garment from
 * stretching under its own weight, however few steps the solver takes.
 *
 * @param isHeld - [n].
 *
 * Reference: T.-Y. Kim, N. Chentanez, M. Müller-Fischer, *Long range attachments: a method to simulate inextensible
 * clothing in computer games*, SCA 2012.
 */
export function computeTethers(garment: CompiledGarment, isHeld: Uint8Array): Tethers {
  const { restPositions, triangles, pointCount } = garment;
  const { distances, sources } = computeSurfaceDistance(restPositions, triangles, isHeld, 4);
  const anchors = new Uint32Array(pointCount);
  const lengths = new Float32Array(pointCount);
  for (let i = 0; i < pointCount; i++) {
    const isFree = !isHeld[i] && sources[i]! >= 0;
    anchors[i] = isFree ? sources[i]! : i;
    lengths[i] = isFree ? distances[i]! : NO_TETHER;
  }
  return { anchors, lengths };
}
