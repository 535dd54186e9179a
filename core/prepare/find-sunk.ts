import type { MeshFinding } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createBodyField, createSectionMesh, MOST_SUNK } from '../steps/index.ts';

/** A point this deep (m) below the skin has sunk in. */
const SUNK_LIMIT = 0.001;

/** Points of a garment that lie in the body in bind pose. @param bodySections - Without the garment itself. */
export function findSunk(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[],
): MeshFinding | null {
  const field = createBodyField(character, bodySections);
  if (!field) return null;
  const { pointPositions: positions, vertexOfPoint } = createSectionMesh(character, sectionIndex);
  const sunk: number[] = [];
  let deepest = 0;
  for (let i = 0; i < positions.length; i += 3) {
    const found = field.measure(positions[i]!, positions[i + 1]!, positions[i + 2]!, MOST_SUNK);
    if (!found || found.distance > -SUNK_LIMIT) continue;
    deepest = Math.max(deepest, -found.distance);
    sunk.push(vertexOfPoint[i / 3]!);
  }
  if (sunk.length === 0) return null;
  return {
    kind: 'sunkIn',
    severity: 'warning',
    count: sunk.length,
    vertices: Uint32Array.from(sunk),
    measured: 1000 * deepest,
    limit: 1000 * SUNK_LIMIT,
    unit: 'mm deep at most',
    sentence: `${sunk.length} vertices lie in the body before anything moves: skin shows through, and bodies throw the cloth out.`,
    fix: 'pushOut',
  };
}
