import { updatePushes } from './air';
import { solveBend, updateFolds } from './bend';
import { findFaceContacts, solveFaces } from './faces';
import { noteFastBlocks } from './fast-blocks';
import { updateHolds } from './give-way';
import { Part, Slot, Surface } from './layout';
import { listLong } from './long-pairs';
import { updateInward, updateNormals } from './normals';
import { advancePoints, predictFirst, pullPoints, turnTargets } from './points';
import { prepareBodies } from './prepare-bodies';
import { findRidgeContacts, solveRidges } from './ridges';
import { findSelfPairs, solveSelf } from './self';
import { findSelfFaces, solveSelfFaces } from './self-faces';
import { at, count, now, number } from './simd';
import { dampEdges, solveStretch } from './stretch';
import { distanceOf, findInSubstep, findNearestTriangles, solveSurface } from './surfaces';

export { listLong };

let mark: f64 = 0;

/** Adds the time since the last call to a part. */
function book(part: i32): void {
  const time = now();
  const place = at(Slot.times) + <usize>(part << 3);
  store<f64>(place, load<f64>(place) + time - mark);
  mark = time;
}

/** Whether all rows at an address are finite: anything that is not turns a sum of products with 0 into NaN. */
export function areFinite(rows: usize): bool {
  const zero = f32x4.splat(0);
  const end = rows + (<usize>count(Slot.rowCount) << 4);
  let sum = zero;
  for (let row = rows; row < end; row += 64) {
    const a = f32x4.add(f32x4.mul(v128.load(row, 0), zero), f32x4.mul(v128.load(row, 16), zero));
    const b = f32x4.add(f32x4.mul(v128.load(row, 32), zero), f32x4.mul(v128.load(row, 48), zero));
    sum = f32x4.add(sum, f32x4.add(a, b));
  }
  return i32x4.all_true(f32x4.eq(sum, zero));
}

/** Normals of all surfaces as they stand at the end of the frame. */
export function startSurfaces(): void {
  const surfaceCount = count(Slot.surfaceCount);
  for (let s = 0; s < surfaceCount; s++) updateSurfaceNormals(surfaceAt(s));
}

/** The record of a surface. */
function surfaceAt(s: i32): usize {
  return at(Slot.surfaces) + <usize>(s * Surface.length * 4);
}

function updateSurfaceNormals(surface: usize): void {
  updateNormals(
    <usize>load<u32>(surface + Surface.to * 4),
    <usize>load<u32>(surface + Surface.triangles * 4),
    load<i32>(surface + Surface.triangleCount * 4),
    <usize>load<u32>(surface + Surface.normals * 4),
    load<i32>(surface + Surface.pointCount * 4),
  );
}

function bookSurface(surface: usize): void {
  book(load<i32>(surface + Surface.isBody * 4) ? Part.meshes : Part.layers);
}

/** One frame, in the order that `ClothSolver` states. */
export function advance(): void {
  const substeps = count(Slot.substeps);
  const iterations = count(Slot.iterations);
  const airEvery = count(Slot.airEvery);
  const surfaceCount = count(Slot.surfaceCount);
  mark = now();
  updatePushes();
  book(Part.air);
  const isSelfByFaces = count(Slot.isSelfByFaces) != 0;
  let selfPairs = 0;
  if (number(Slot.selfDistance) > 0) {
    selfPairs = isSelfByFaces ? findSelfFaces() : findSelfPairs();
    book(Part.self);
  }
  for (let s = 0; s < surfaceCount; s++) {
    const surface = surfaceAt(s);
    if (distanceOf(surface) <= 0) continue;
    noteFastBlocks(surface);
    findNearestTriangles(surface, false);
    updateSurfaceNormals(surface);
    findRidgeContacts(surface);
    bookSurface(surface);
  }
  const faceContacts = findFaceContacts();
  book(Part.reach);
  if (count(Slot.hasEdgeDamping)) {
    dampEdges();
    book(Part.stretch);
  }
  if (count(Slot.givesWay)) {
    updateHolds();
    book(Part.stretch);
  }
  if (count(Slot.bendSteps) > 0) {
    updateFolds();
    book(Part.bend);
  }
  if (count(Slot.hasInward)) updateInward();
  turnTargets();
  predictFirst();
  book(Part.reach);
  for (let substep = 0; substep < substeps; substep++) {
    solveBend();
    book(Part.bend);
    for (let pass = 0; pass < iterations; pass++) solveStretch(pass, pass + 1 == iterations);
    book(Part.stretch);
    if (selfPairs > 0) {
      if (isSelfByFaces) solveSelfFaces(selfPairs);
      else solveSelf(selfPairs);
      book(Part.self);
    }
    const share: f32 = <f32>(substep + 1) / <f32>substeps;
    for (let s = 0; s < surfaceCount; s++) {
      const surface = surfaceAt(s);
      if (distanceOf(surface) <= 0) continue;
      if (load<i32>(surface + Surface.isFast * 4)) findInSubstep(surface, substep);
      solveSurface(surface, share);
      solveRidges(surface, share);
      bookSurface(surface);
    }
    pullPoints();
    prepareBodies(substep);
    solveFaces(faceContacts);
    advancePoints(substep);
    book(Part.reach);
    if ((substep + 1) % airEvery == 0 && substep + 1 < substeps) {
      updatePushes();
      book(Part.air);
      if (count(Slot.givesWay)) {
        updateHolds();
        book(Part.stretch);
      }
    }
  }
}
