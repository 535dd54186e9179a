export { checkMesh } from './check-mesh.ts';
export {
  type CheckedMesh,
  createCheckedMesh,
  type HealthInput,
} from './checked-mesh.ts';
export { listSlivers } from './find-bad-faces.ts';
export { listBadNormals } from './find-bad-normals.ts';
export { listCrossedDiagonals } from './find-crossed-diagonals.ts';
export { listFlippedFaces } from './find-flipped-faces.ts';
export { numberPieces } from './find-loose-pieces.ts';
export { findRim, LEAST_PAIRED, type Rim } from './find-rim.ts';
export { listThinFaces, THIN_SHARE } from './find-thin-rows.ts';
export { groupSeamPoints } from './find-unwelded-seams.ts';
export { listUvIslands } from './find-uv-faults.ts';
export {
  completeLimits,
  HEALTH_LIMITS,
  type HealthLimitDefinition,
  type HealthLimits,
} from './health-limits.ts';
export type { FindingKind, MeshFinding, MeshFix, Severity } from './mesh-finding.ts';
export { pairShells } from './pair-shells.ts';
