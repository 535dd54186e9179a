import { percentile } from '../../../../core/math/index.ts';
import { createCheckedMesh } from '../../../../core/mesh/index.ts';
import type { Section } from '../../../../core/rig/index.ts';

export interface Spacing {
  points: number;
  triangles: number;
  edges: number;
  /** Metres. */
  median: number;
  /** The 95th over the 5th percentile. */
  spread: number;
}

const spacingOfSection = new WeakMap<Section, Spacing>();

/** How the points of a section are spaced, in its own space. */
export function measureSpacing(section: Section): Spacing {
  const known = spacingOfSection.get(section);
  if (known) return known;
  const { positions, triangles } = section;
  const mesh = createCheckedMesh({ positions, triangles, uvs: null });
  const spacing = {
    points: mesh.pointCount,
    triangles: mesh.faces.length / 3,
    edges: mesh.table.edgeCount,
    median: mesh.spacing,
    spread: percentile(mesh.lengths, 0.95) / Math.max(1e-9, percentile(mesh.lengths, 0.05)),
  };
  spacingOfSection.set(section, spacing);
  return spacing;
}
