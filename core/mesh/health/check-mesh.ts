import { type CheckedMesh, createCheckedMesh, type HealthInput } from './checked-mesh.ts';
import { findDuplicateFaces, findNonManifoldEdges, findSlivers } from './find-bad-faces.ts';
import { findBadNormals } from './find-bad-normals.ts';
import { findCrossedDiagonals } from './find-crossed-diagonals.ts';
import { findFlippedFaces } from './find-flipped-faces.ts';
import { findLoosePieces } from './find-loose-pieces.ts';
import { findPoseStretch } from './find-pose-stretch.ts';
import { findThinRows } from './find-thin-rows.ts';
import { findTouchingPoints } from './find-touching-points.ts';
import { findUnevenSpacing } from './find-uneven-spacing.ts';
import { findUnweldedSeams } from './find-unwelded-seams.ts';
import { findUvFaults } from './find-uv-faults.ts';
import { findWeightless } from './find-weightless.ts';
import type { MeshFinding, Severity } from './mesh-finding.ts';

const CHECKS: readonly ((mesh: CheckedMesh) => MeshFinding | null)[] = [
  findUnweldedSeams,
  findSlivers,
  findDuplicateFaces,
  findFlippedFaces,
  findNonManifoldEdges,
  findTouchingPoints,
  findThinRows,
  findUnevenSpacing,
  findLoosePieces,
  findCrossedDiagonals,
  findPoseStretch,
  findWeightless,
  findBadNormals,
];

const RANK: Record<Severity, number> = { severe: 0, warning: 1, note: 2 };

/** Everything that is wrong with a garment's mesh, worst first. O(n log n). */
export function checkMesh(input: HealthInput): MeshFinding[] {
  const mesh = createCheckedMesh(input);
  const findings = [
    ...CHECKS.map((check) => check(mesh)).filter((finding) => finding !== null),
    ...findUvFaults(mesh),
  ];
  return findings.sort((p, q) => RANK[p.severity] - RANK[q.severity]);
}
