import { NO_CHAIN } from './editable-mesh.ts';
import { type Remeshing, SHORTEST_LINE_EDGE } from './remeshing.ts';

/** Edge lengths grow away from a finely followed border by this much per metre. */
const GRADATION = 0.6;

/** From the lines inward, growing with the distance, never above the wished length. */
export function computeSizes(state: Remeshing): void {
  const mesh = state.mesh;
  const sizes = new Array<number>(mesh.pointCount).fill(state.edgeLength);
  const edges = mesh.listEdges();
  for (let i = 0; i < edges.length; i += 2) {
    const [a, b] = [edges[i]!, edges[i + 1]!];
    const polyline = mesh.getEdgePolyline(a, b);
    if (polyline === NO_CHAIN) continue;
    const { spacing } = state.polylines[polyline]!;
    // A line too short for one wished edge would drag its surroundings along.
    const size = Math.min(state.edgeLength, Math.max(spacing, SHORTEST_LINE_EDGE * state.edgeLength));
    sizes[a] = Math.min(sizes[a]!, size);
    sizes[b] = Math.min(sizes[b]!, size);
  }
  for (let sweep = 0; sweep < 6; sweep++) {
    for (let i = 0; i < edges.length; i += 2) {
      const [a, b] = [edges[i]!, edges[i + 1]!];
      const growth = GRADATION * mesh.getLength(a, b);
      if (sizes[a]! > sizes[b]! + growth) sizes[a] = sizes[b]! + growth;
      else if (sizes[b]! > sizes[a]! + growth) sizes[b] = sizes[a]! + growth;
    }
  }
  state.sizes = sizes;
}
