import { type AuthoredDocument, findSimMeshStep, type GarmentRecord } from '../document/index.ts';
import { percentile } from '../math/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { createSectionMesh } from '../steps/index.ts';

/** The mesh that a garment is simulated on. */
export interface SimEdge {
  /** As its sim mesh was made, else the middle one of its edges, m. */
  edgeLength: number;
  pointCount: number;
}

/**
 * How long the edges are that a garment is simulated on, when another mesh may take its place: a card, or a sim mesh of another hand, is as it is meant.
 * @param character - Prepared. @returns Null when none may.
 */
export function readSimEdge(
  character: Character,
  document: Pick<AuthoredDocument, 'records'>,
  garment: GarmentRecord,
): SimEdge | null {
  const index = findSection(character, garment);
  const act = findSimMeshStep(document, garment)?.act;
  const isBuilt = act?.kind === 'makeSimMesh';
  if (index < 0 || (garment.renders.length > 0 && !isBuilt)) return null;
  const { pointPositions, faces } = createSectionMesh(character, index);
  const edgeLength = isBuilt ? act.edgeLength : measureUsualEdge(pointPositions, faces);
  return { edgeLength, pointCount: pointPositions.length / 3 };
}

/** m; the middle one of all edges of triangles. */
function measureUsualEdge(positions: Float32Array, faces: Uint32Array): number {
  const lengths = Array.from(faces, (a, corner) => {
    const b = faces[corner % 3 === 2 ? corner - 2 : corner + 1]!;
    return Math.hypot(...[0, 1, 2].map((k) => positions[3 * a + k]! - positions[3 * b + k]!));
  });
  return percentile(lengths, 0.5);
}
