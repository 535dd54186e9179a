import { joinNearVertices } from '../core/mesh/index.ts';
import type { RepairLog } from './gltf/repair-log.ts';

/** Vertices that rounding set apart come to lie in one place, and that is told. */
export function joinSeams(
  positions: Float32Array,
  triangles: Uint32Array,
  where: string,
  log: RepairLog,
): void {
  const moved = joinNearVertices(positions, triangles);
  if (moved > 0)
    log.repair(
      'near-vertices',
      where,
      `${moved} vertices lay beside others by less than a ten-thousandth of an edge, and were put in the same place.`,
    );
}
