import { percentile } from '../../math/index.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import { findRim } from './find-rim.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Edges much shorter than most; null when they are alike. */
export function findUnevenSpacing(mesh: CheckedMesh): MeshFinding | null {
  const { table, lengths: all, pointCount } = mesh;
  const { spacingSpread, spacingJump } = mesh.limits;
  // The rim of a two-sided garment is as narrow as it is thick.
  const { isEdge: isRim } = findRim(mesh);
  const lengths = all.filter((_, e) => !isRim[e]);
  if (lengths.length === 0) return null;
  const spread = percentile(lengths, 0.95) / Math.max(percentile(lengths, 0.05), 1e-9);
  const sums = new Float64Array(pointCount);
  const counts = new Uint32Array(pointCount);
  for (let e = 0; e < table.edgeCount; e++) {
    if (isRim[e]) continue;
    for (const point of [table.edges[2 * e]!, table.edges[2 * e + 1]!]) {
      sums[point] = sums[point]! + all[e]!;
      counts[point]!++;
    }
  }
  const jumps: number[] = [];
  let worst = 1;
  for (let e = 0; e < table.edgeCount; e++) {
    const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    if (isRim[e] || counts[a] === 0 || counts[b] === 0) continue;
    const [p, q] = [sums[a]! / counts[a]!, sums[b]! / counts[b]!];
    const jump = Math.max(p, q) / Math.max(Math.min(p, q), 1e-9);
    worst = Math.max(worst, jump);
    if (jump > spacingJump) jumps.push(a, b);
  }
  if (spread <= spacingSpread && jumps.length === 0) return null;
  const isSpread = spread > spacingSpread;
  const tooShort = percentile(lengths, 0.5) / 2;
  const short = Array.from(all.keys()).filter((e) => !isRim[e] && all[e]! < tooShort);
  const shortEnds = short.flatMap((e) => [table.edges[2 * e]!, table.edges[2 * e + 1]!]);
  return {
    kind: 'unevenSpacing',
    severity: 'warning',
    count: isSpread ? short.length : jumps.length / 2,
    vertices: toVertices(mesh, isSpread ? [...shortEnds, ...jumps] : jumps),
    measured: isSpread ? spread : worst,
    limit: isSpread ? spacingSpread : spacingJump,
    unit: isSpread ? 'times from short to long edges' : 'times between neighbours',
    sentence: isSpread
      ? `Edges differ widely in length (${short.length} are below half the usual): dense places look stiffer and cost more.`
      : `The spacing jumps at ${jumps.length / 2} edges: the cloth kinks where dense meets wide.`,
    fix: 'evenOut',
  };
}
