import { type DistanceFunction, gradient } from '../figure/distance.ts';
import type { Surface } from '../figure/polygonise.ts';
import { spread } from '../figure/skin-weights.ts';
import { triangulateGrid } from './triangulate-grid.ts';

export type Position = [number, number, number];

/** A surface that is one sheet rolled about the figure, with UVs; the first column is doubled for the UV seam. */
export interface Sheet extends Surface {
  /** [n, 2] */
  uvs: Float32Array;
  columns: number;
  rows: number;
}

export type Profile = readonly (readonly [outward: number, y: number])[];

/** Place at a share of the length of a polyline. */
export function samplePolyline(line: Profile, share: number): [number, number] {
  const lengths = line.slice(1).map((p, i) => Math.hypot(p[0] - line[i]![0], p[1] - line[i]![1]));
  let left = share * lengths.reduce((sum, length) => sum + length, 0);
  for (let i = 0; i < lengths.length; i++) {
    if (left <= lengths[i]! || i === lengths.length - 1) {
      const t = left / lengths[i]!;
      return [
        line[i]![0] + t * (line[i + 1]![0] - line[i]![0]),
        line[i]![1] + t * (line[i + 1]![1] - line[i]![1]),
      ];
    }
    left -= lengths[i]!;
  }
  return [...line[line.length - 1]!];
}

/** Moves inner points towards the mean of their four neighbours; the first and last rows stay, and the sides of an open grid. */
export function evenOut(grid: Position[][], share: number, isClosed = true): void {
  const columns = grid[0]!.length;
  const before = grid.map((line) => line.map((p) => [...p] as Position));
  for (let r = 1; r < grid.length - 1; r++) {
    for (let c = isClosed ? 0 : 1; c < columns - (isClosed ? 0 : 1); c++) {
      const around = [
        before[r - 1]![c]!,
        before[r + 1]![c]!,
        before[r]![(c + 1) % columns]!,
        before[r]![(c + columns - 1) % columns]!,
      ];
      for (let k = 0; k < 3; k++) {
        const mean = around.reduce((sum, p) => sum + p[k]!, 0) / 4;
        grid[r]![c]![k] = before[r]![c]![k]! + share * (mean - before[r]![c]![k]!);
      }
    }
  }
}

/** Moves a place that lies closer to a surface than an offset out to it. */
export function pushOut(p: Position, distance: DistanceFunction, offset: number): void {
  const d = distance(...p);
  if (d >= offset) return;
  const n = gradient(distance, ...p);
  for (let k = 0; k < 3; k++) p[k] = p[k]! + (offset - d) * n[k]!;
}

/** A grid of places as a sheet. @param isClosed - Its last column meets the first. */
export function toSheet(grid: readonly (readonly Position[])[], isClosed = true): Sheet {
  const columns = grid[0]!.length - (isClosed ? 0 : 1);
  const positions: number[] = [];
  const uvs: number[] = [];
  grid.forEach((line, r) => {
    for (let c = 0; c <= columns; c++) {
      positions.push(...line[c % line.length]!);
      uvs.push(c / columns, r / (grid.length - 1));
    }
  });
  return {
    positions: Float32Array.from(positions),
    uvs: Float32Array.from(uvs),
    triangles: triangulateGrid(columns, grid.length - 1),
    columns,
    rows: grid.length - 1,
  };
}

/** The same sheet as a closed ring of points, to spread values over it across the UV seam. */
export function spreadAround(sheet: Sheet, rows: Float32Array, width: number, passes: number): void {
  const { columns } = sheet;
  const count = sheet.positions.length / 3;
  const rate = new Float32Array(count).fill(0.5);
  const ring = sheet.triangles.map((v) => (v % (columns + 1) === columns ? v - columns : v));
  spread({ positions: sheet.positions, triangles: ring }, rows, rate, width, passes);
  for (let v = columns; v < count; v += columns + 1) {
    rows.copyWithin(v * width, (v - columns) * width, (v - columns + 1) * width);
  }
}
