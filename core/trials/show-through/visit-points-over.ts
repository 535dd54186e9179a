import type { ClothSurface } from '../cloth-surfaces.ts';
import { CELL, findBucket, type PointGrid } from '../skin/point-grid.ts';

/** How far beside a triangle a point still counts as over it, as a share of the triangle. */
const BESIDE = 0.05;

/** A point over (height above 0) or under a triangle, and the triangle's outer unit normal. */
export type VisitPoint = (
  point: number,
  triangle: number,
  height: number,
  nx: number,
  ny: number,
  nz: number,
) => void;

/**
 * Visits the points of a grid whose foot on a triangle's plane is in the triangle.
 *
 * @param low - Least and most height, m; below 0 beneath.
 * @param wanted - Triangles that count, [t]; null: all.
 */
export function visitPointsOver(
  { positions: x, stride, triangles }: ClothSurface,
  { start, list, rows }: PointGrid,
  low: number,
  high: number,
  wanted: Uint8Array | null,
  visit: VisitPoint,
): void {
  for (let t = 0; t < triangles.length; t += 3) {
    if (wanted && wanted[t / 3] === 0) continue;
    const a = stride * triangles[t]!;
    const b = stride * triangles[t + 1]!;
    const c = stride * triangles[t + 2]!;
    const ax = x[a]!;
    const ay = x[a + 1]!;
    const az = x[a + 2]!;
    const ux = x[b]! - ax;
    const uy = x[b + 1]! - ay;
    const uz = x[b + 2]! - az;
    const vx = x[c]! - ax;
    const vy = x[c + 1]! - ay;
    const vz = x[c + 2]! - az;
    let nx = uy * vz - uz * vy;
    let ny = uz * vx - ux * vz;
    let nz = ux * vy - uy * vx;
    const squaredArea = nx * nx + ny * ny + nz * nz;
    if (!(squaredArea > 0)) continue;
    const perArea = 1 / Math.sqrt(squaredArea);
    nx *= perArea;
    ny *= perArea;
    nz *= perArea;
    // The shares of the foot in u and v are products with these.
    const sx = (vy * nz - vz * ny) * perArea;
    const sy = (vz * nx - vx * nz) * perArea;
    const sz = (vx * ny - vy * nx) * perArea;
    const rx = (ny * uz - nz * uy) * perArea;
    const ry = (nz * ux - nx * uz) * perArea;
    const rz = (nx * uy - ny * ux) * perArea;
    const x0 = Math.floor((ax + Math.min(0, ux, vx) + Math.min(high * nx, low * nx)) / CELL);
    const x1 = Math.floor((ax + Math.max(0, ux, vx) + Math.max(high * nx, low * nx)) / CELL);
    const y0 = Math.floor((ay + Math.min(0, uy, vy) + Math.min(high * ny, low * ny)) / CELL);
    const y1 = Math.floor((ay + Math.max(0, uy, vy) + Math.max(high * ny, low * ny)) / CELL);
    const z0 = Math.floor((az + Math.min(0, uz, vz) + Math.min(high * nz, low * nz)) / CELL);
    const z1 = Math.floor((az + Math.max(0, uz, vz) + Math.max(high * nz, low * nz)) / CELL);
    for (let cx = x0; cx <= x1; cx++) {
      for (let cy = y0; cy <= y1; cy++) {
        for (let cz = z0; cz <= z1; cz++) {
          const bucket = findBucket(cx, cy, cz);
          const end = start[bucket + 1]!;
          for (let i = start[bucket]!; i < end; i++) {
            const qx = rows[3 * i]! - ax;
            const qy = rows[3 * i + 1]! - ay;
            const qz = rows[3 * i + 2]! - az;
            const height = qx * nx + qy * ny + qz * nz;
            if (height > high || height < low) continue;
            const share = qx * sx + qy * sy + qz * sz;
            if (share < -BESIDE) continue;
            const other = qx * rx + qy * ry + qz * rz;
            if (other < -BESIDE || share + other > 1 + BESIDE) continue;
            visit(list[i]!, t / 3, height, nx, ny, nz);
          }
        }
      }
    }
  }
}
