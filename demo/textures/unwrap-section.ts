import { Atlas, Initialize } from 'watlas';
import { rebuildSection, type Section } from '../../core/rig/index.ts';

/** Largest chart, m²: larger ones take far longer to lay flat, smaller ones have more seams. */
const MOST_CHART_AREA = 0.05;
/** Between charts, in picture elements of a texture of 1,024. */
const PADDING = 4;

/**
 * The section laid flat: UVs between 0 and 1, hardly stretched, nothing over anything else. Vertices on the borders of
 * charts are there once for each.
 *
 * Reference: B. Lévy, S. Petitjean, N. Ray and J. Maillot, *Least squares conformal maps for automatic texture atlas
 * generation*, SIGGRAPH 2002.
 */
export async function unwrapSection(section: Section): Promise<Section> {
  await Initialize();
  const atlas = new Atlas();
  try {
    atlas.addMesh({
      vertexPositionData: section.positions,
      vertexCount: section.positions.length / 3,
      vertexPositionStride: 12,
      indexData: section.triangles,
      indexCount: section.triangles.length,
    });
    atlas.computeCharts({ maxChartArea: MOST_CHART_AREA });
    atlas.packCharts({ resolution: 1024, padding: PADDING, bilinear: true });
    const mesh = atlas.getMesh(0);
    const triangles = new Uint32Array(mesh.indexCount);
    mesh.getIndexArray(triangles);
    const vertices = Array.from({ length: mesh.vertexCount }, (_, v) => mesh.getVertex(v));
    const made = rebuildSection(
      section,
      vertices.map(({ xref }) => xref),
      triangles,
    );
    const size = Math.max(atlas.width, atlas.height);
    return {
      ...made,
      uvs: Float32Array.from(
        vertices.flatMap(({ uv }) => uv),
        (texel) => texel / size,
      ),
    };
  } finally {
    atlas.delete();
  }
}
