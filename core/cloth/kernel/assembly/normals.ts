import { Slot } from './layout';
import { at, count, cross, dot } from './simd';

/** Area-weighted unit normals of points, 0 where there is no area. Corners are byte offsets of rows. */
export function updateNormals(places: usize, triangles: usize, triangleCount: i32, out: usize, pointCount: i32): void {
  memory.fill(out, 0, <usize>pointCount << 4);
  let corners = triangles;
  for (let t = 0; t < triangleCount; t++, corners += 12) {
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const c = <usize>load<u32>(corners, 8);
    const xa = v128.load(places + a);
    const n = cross(f32x4.sub(v128.load(places + b), xa), f32x4.sub(v128.load(places + c), xa));
    v128.store(out + a, f32x4.add(v128.load(out + a), n));
    v128.store(out + b, f32x4.add(v128.load(out + b), n));
    v128.store(out + c, f32x4.add(v128.load(out + c), n));
  }
  for (let i = 0; i < pointCount; i++) {
    const row = out + (<usize>i << 4);
    const n = v128.load(row);
    const length: f32 = sqrt<f32>(dot(n, n));
    v128.store(row, f32x4.mul(n, f32x4.splat(length > 0 ? <f32>1.0 / length : 0)));
  }
}

/** Centres of the inward limits' spheres, see `constraints/normals.ts`. */
export function updateInward(): void {
  const pointCount = count(Slot.pointCount);
  const normals = at(Slot.targetNormals);
  updateNormals(at(Slot.nextTargets), at(Slot.triangles), count(Slot.triangleCount), normals, pointCount);
  const inward = at(Slot.inward);
  const depths = at(Slot.inwardDepths);
  for (let i = 0; i < pointCount; i++) {
    const row = inward + (<usize>i << 4);
    const radius = load<f32>(row, 12);
    if (radius < 0) continue;
    const back: f32 = -(load<f32>(depths + (<usize>i << 2)) + radius);
    const centre = f32x4.mul(v128.load(normals + (<usize>i << 4)), f32x4.splat(back));
    v128.store(row, f32x4.replace_lane(centre, 3, radius));
  }
}
