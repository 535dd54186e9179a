import { BufferAttribute, BufferGeometry, DynamicDrawUsage, LineDashedMaterial, LineSegments } from 'three';

/** Dashes and gaps, m. */
const [DASH, GAP] = [0.008, 0.004];

/** The triangles of a sim mesh as dashed graphite lines over what is drawn. */
export class SimWire {
  readonly lines: LineSegments<BufferGeometry, LineDashedMaterial>;
  readonly #edges: Uint32Array;

  /** @param edges - Pairs of points. */
  constructor(edges: Uint32Array) {
    this.#edges = edges;
    const geometry = new BufferGeometry();
    geometry.setAttribute(
      'position',
      new BufferAttribute(new Float32Array(3 * edges.length), 3).setUsage(DynamicDrawUsage),
    );
    geometry.setAttribute(
      'lineDistance',
      new BufferAttribute(new Float32Array(edges.length), 1).setUsage(DynamicDrawUsage),
    );
    this.lines = new LineSegments(
      geometry,
      new LineDashedMaterial({
        color: '#2B2E36',
        dashSize: DASH,
        gapSize: GAP,
        transparent: true,
        opacity: 0.85,
      }),
    );
    this.lines.frustumCulled = false;
    this.lines.visible = false;
    this.lines.renderOrder = 3;
  }

  /** @param positions, normals - Of the points as drawn now, [p, 3]: the lines lie a little above them. */
  update(positions: Float32Array, normals: Float32Array): void {
    const { position, lineDistance } = this.lines.geometry.attributes as Record<string, BufferAttribute>;
    const at = position!.array as Float32Array;
    const displacement = lineDistance!.array as Float32Array;
    for (let i = 0; i < this.#edges.length; i++) {
      const p = 3 * this.#edges[i]!;
      for (let k = 0; k < 3; k++) at[3 * i + k] = positions[p + k]! + 0.0025 * normals[p + k]!;
      if (i % 2 === 0) displacement[i] = 0;
      else
        displacement[i] = Math.hypot(
          at[3 * i]! - at[3 * i - 3]!,
          at[3 * i + 1]! - at[3 * i - 2]!,
          at[3 * i + 2]! - at[3 * i - 1]!,
        );
    }
    position!.needsUpdate = true;
    lineDistance!.needsUpdate = true;
  }

  dispose(): void {
    this.lines.geometry.dispose();
    this.lines.material.dispose();
  }
}
