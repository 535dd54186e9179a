export type FindingKind =
  | 'unweldedSeam'
  | 'sliver'
  | 'duplicateFace'
  | 'nonManifoldEdge'
  | 'touchingPoint'
  | 'flippedFace'
  | 'thinRow'
  | 'unevenSpacing'
  | 'loosePiece'
  | 'crossedDiagonal'
  | 'poseStretch'
  | 'badNormal'
  | 'weightless'
  | 'sunkIn'
  | 'uvMissing'
  | 'uvOverlap'
  | 'uvFlip'
  | 'uvStretch'
  | 'uvTinyIsland';

/** `severe`: the garment will not simulate well; `warning`: it may not; `note`: good to know. */
export type Severity = 'note' | 'warning' | 'severe';

/** What can be done about a finding, see `core/prepare`. */
export type MeshFix =
  | 'weld'
  | 'dropFaces'
  | 'turnFaces'
  | 'joinRows'
  | 'evenOut'
  | 'splitPieces'
  | 'alignDiagonals'
  | 'restInPose'
  | 'mendNormals'
  | 'pushOut';

export interface MeshFinding {
  kind: FindingKind;
  severity: Severity;
  /** How many: seam points, triangles, edges, pieces or islands, as the sentence says. */
  count: number;
  /** Vertices where it is. */
  vertices: Uint32Array;
  /** The number that tripped it, and the limit that it passed; in `unit`. */
  measured: number;
  limit: number;
  unit: string;
  /** What was found and what it leads to, in words. */
  sentence: string;
  fix: MeshFix | null;
}
