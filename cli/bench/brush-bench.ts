import { compileGarment, FABRIC_DEFAULTS, KernelSolver } from '../../core/cloth/index.ts';
import {
  buildEdgeTable,
  buildNeighbours,
  castRay,
  computeVertexNormals,
  SurfaceFront,
} from '../../core/mesh/index.ts';
import { computeDab, mergeChanges, NO_CHANGE, type SparseChange } from '../../core/reach/index.ts';
import { readCpu, summarise } from './measure.ts';
import { createSkirt } from './skirt.ts';

const SIDE = 317;
const DABS = 90;
/** m: a brush of this radius covers about a fiftieth of the skirt. */
const RADIUS = 0.08;
const FRAME_MS = 16;

export interface BrushBench {
  vertices: number;
  /** Points that a dab touches, on average. */
  touched: number;
  /** Milliseconds of CPU time, of the dabs of one stroke: from the ray under the cursor to values that the solver has. */
  median: number;
  /** A quarter is faster: what it takes when nothing else disturbs. */
  quick: number;
  /** All but one in twenty are faster. */
  slow: number;
  /** Of a frame that the slow one takes. */
  shareOfFrame: number;
  /** How much longer a dab along the surface takes than one of a plain ball. */
  alongOverBall: number;
}

/**
 * A stroke across a skirt of 100,000 points that swings: for each dab the ray is cast, the points are touched along the
 * surface, the values changed, the change joined to the stroke, and the running solver given the new values.
 */
export function benchBrush(): BrushBench {
  const character = createSkirt(SIDE);
  const { positions, triangles } = character.sections[0]!;
  const count = positions.length / 3;
  const neighbours = buildNeighbours(buildEdgeTable(triangles, count), count);
  const front = new SurfaceFront(triangles, count);
  const normals = computeVertexNormals(positions, triangles, new Float32Array(positions.length));
  const solver = new KernelSolver(compileGarment(character, 0), FABRIC_DEFAULTS);
  const values = new Float32Array(count).fill(0.2);
  solver.setMaxDistances(values);
  const moved = positions.slice();
  let stroke: SparseChange = NO_CHANGE;
  let touched = 0;
  const dab = (index: number, isAlong: boolean): number => {
    const height = 0.75 + 0.2 * Math.sin(0.2 * index);
    const angle = 0.02 * index;
    const start = readCpu();
    const direction = [-Math.cos(angle), 0, -Math.sin(angle)] as const;
    const origin = [3 * Math.cos(angle), height, 3 * Math.sin(angle)] as const;
    const hit = castRay(moved, triangles, origin, direction);
    if (!hit) throw new Error('the ray meets the skirt');
    const along = [0, 1, 2].map((k) => triangles[3 * hit.triangle + k]!) as [number, number, number];
    const change = computeDab(
      values,
      { positions: moved, stride: 3, normals, neighbours, front },
      {
        center: hit.point,
        radius: RADIUS,
        strength: 0.6,
        falloff: 'smooth',
        mode: 'value',
        value: 0.5 + 0.01 * (index % 3),
        view: direction,
        normalAtHit: hit.normal,
        ...(isAlong && { along }),
      },
    );
    change.indices.forEach((point, k) => {
      values[point] = change.after[k]!;
    });
    stroke = mergeChanges(stroke, change);
    solver.setMaxDistances(values);
    touched += change.indices.length;
    return (readCpu() - start) / 1000;
  };
  for (let i = 0; i < 20; i++) dab(i, true);
  touched = 0;
  stroke = NO_CHANGE;
  const along: number[] = [];
  const ball: number[] = [];
  for (let i = 0; i < DABS; i++) {
    along.push(dab(i, true));
    ball.push(dab(i, false));
  }
  const slow = along.sort((p, q) => p - q)[Math.floor(0.95 * DABS)]!;
  const round = (value: number, digits: number): number => Number(value.toFixed(digits));
  return {
    vertices: count,
    touched: Math.round(touched / (2 * DABS)),
    median: round(summarise(along).median, 1),
    quick: round(summarise(along).low, 1),
    slow: round(slow, 1),
    shareOfFrame: round(slow / FRAME_MS, 2),
    alongOverBall: round(summarise(along).median / summarise(ball).median, 2),
  };
}
