import type { ClothSurface } from '../cloth-surfaces.ts';
import type { PointGrid } from '../skin/point-grid.ts';

/** How far beside a triangle a point still counts as over it, as a share of the triangle. */
const BESIDE = 0.05;

/** Of the point that is visited: how high it is over the triangle, m, below 0 beneath; and the triangle's outer unit normal. */
export const over = { height: 0, nx: 0, ny: 0, nz: 0 };

/** A point over or under a triangle; how, stands in `over`: numbers that are handed on would each be an object. */
export type VisitPoint = (point: number, triangle: number) => void;

/**
 * Visits the points of a grid whose foot on a triangle's plane is in the triangle.
 *
 * @param low - Least and most height, m; below 0 beneath.
 * @param wanted - Triangles that count, [t]; null: all.
 */
export function visitPointsOver(
  { positions: x, stride, triangles }: ClothSurface,
  { start, list, rows, low: corner, size, perCell }: PointGrid,
  low: number,
  high: number,
  wanted: Uint8Array | null,
  visit: VisitPoint,
): void {
  const [cornerX, cornerY, cornerZ] = corner as unknown as [number, number, number];
  const [sizeX, sizeY, sizeZ] = size as unknown as [number, number, number];
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
    over.nx = nx;
    over.ny = ny;
    over.nz = nz;
    // The shares of the foot in u and v are products with these.
    const sx = (vy * nz - vz * ny) * perArea;
    const sy = (vz * nx - vx * nz) * perArea;
    const sz = (vx * ny - vy * nx) * perArea;
    const rx = (ny * uz - nz * uy) * perArea;
    const ry = (nz * ux - nx * uz) * perArea;
    const rz = (nx * uy - ny * ux) * perArea;
    // Of the prism over the triangle.
    const x0 = Math.max(
      0,
      Math.floor((ax + Math.min(0, ux, vx) + Math.min(high * nx, low * nx) - cornerX) * perCell),
    );
    const x1 = Math.min(
      sizeX - 1,
      Math.floor((ax + Math.max(0, ux, vx) + Math.max(high * nx, low * nx) - cornerX) * perCell),
    );
    const y0 = Math.max(
      0,
      Math.floor((ay + Math.min(0, uy, vy) + Math.min(high * ny, low * ny) - cornerY) * perCell),
    );
    const y1 = Math.min(
      sizeY - 1,
      Math.floor((ay + Math.max(0, uy, vy) + Math.max(high * ny, low * ny) - cornerY) * perCell),
    );
    const z0 = Math.max(
      0,
      Math.floor((az + Math.min(0, uz, vz) + Math.min(high * nz, low * nz) - cornerZ) * perCell),
    );
    const z1 = Math.min(
      sizeZ - 1,
      Math.floor((az + Math.max(0, uz, vz) + Math.max(high * nz, low * nz) - cornerZ) * perCell),
    );
    if (z0 > z1) continue;
    for (let cx = x0; cx <= x1; cx++) {
      for (let cy = y0; cy <= y1; cy++) {
        const row = (cx * sizeY + cy) * sizeZ;
        const end = start[row + z1 + 1]!;
        for (let i = start[row + z0]!; i < end; i++) {
          const qx = rows[3 * i]! - ax;
          const qy = rows[3 * i + 1]! - ay;
          const qz = rows[3 * i + 2]! - az;
          const height = qx * nx + qy * ny + qz * nz;
          if (height > high || height < low) continue;
          const share = qx * sx + qy * sy + qz * sz;
          if (share < -BESIDE) continue;
          const other = qx * rx + qy * ry + qz * rz;
          if (other < -BESIDE || share + other > 1 + BESIDE) continue;
          over.height = height;
          visit(list[i]!, t / 3);
        }
      }
    }
  }
}
