import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  EdgesGeometry,
  Matrix4,
  PlaneGeometry,
  Quaternion,
  Vector3,
} from 'three';
import {
  type BodyShape,
  getRoundShape,
  getShapeDefinition,
  isRoundBody,
  listHullTriangles,
  PLANE_SHOWN,
} from '../../core/bodies/index.ts';
import { createCapsuleGeometry, createRingGeometry } from './capsule-geometry.ts';

/** What is drawn of a body, in the space of its joint. */
export interface BodyGeometry {
  fill: BufferGeometry;
  /** Rings across a limb, edges of what has edges: line segments. */
  lines: BufferGeometry;
}

const UP = new Vector3(0, 1, 0);
/** Faces that turn by less than this have no edge between them, degrees. */
const EDGE_ANGLE = 8;
/** Lines across a side of a box, and in each direction of a plane. */
const BOX_LINES = 3;
const PLANE_LINES = 8;

/** Geometries of a body, to be disposed of by whoever asked. */
export function createBodyGeometry(shape: BodyShape): BodyGeometry {
  if (isRoundBody(shape)) {
    const { a, b, radiusA, radiusB } = getRoundShape(shape);
    const axis = new Vector3(...b).sub(new Vector3(...a));
    const length = axis.length();
    const turn = new Quaternion();
    if (length > 0) turn.setFromUnitVectors(UP, axis.divideScalar(length));
    return place(
      {
        fill: createCapsuleGeometry(length, radiusA, radiusB),
        lines: createRingGeometry(length, radiusA, radiusB),
      },
      new Vector3(...a),
      turn,
    );
  }
  if (shape.kind === 'hull') {
    const fill = new BufferGeometry();
    fill.setAttribute('position', new BufferAttribute(Float32Array.from(shape.points), 3));
    fill.setIndex(listHullTriangles(Float32Array.from(shape.points)));
    const flat = fill.toNonIndexed();
    fill.dispose();
    flat.computeVertexNormals();
    return { fill: flat, lines: new EdgesGeometry(flat, EDGE_ANGLE) };
  }
  const { translation, rotation } = getShapeDefinition(shape).getFrame(shape);
  const parts =
    shape.kind === 'box'
      ? {
          fill: new BoxGeometry(...shape.halfSize.map((half) => 2 * half)),
          lines: createBoxLines(shape.halfSize),
        }
      : {
          fill: new PlaneGeometry(2 * PLANE_SHOWN, 2 * PLANE_SHOWN).rotateX(-Math.PI / 2),
          lines: createPlaneLines(),
        };
  return place(parts, new Vector3(...translation), new Quaternion(...rotation));
}

function place(parts: BodyGeometry, position: Vector3, turn: Quaternion): BodyGeometry {
  const matrix = new Matrix4().compose(position, turn, new Vector3(1, 1, 1));
  parts.fill.applyMatrix4(matrix);
  parts.lines.applyMatrix4(matrix);
  return parts;
}

function toLines(places: number[]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(places), 3));
  return geometry;
}

/** The twelve edges, and frames across the longest side. */
function createBoxLines(half: readonly [number, number, number]): BufferGeometry {
  const long = half.indexOf(Math.max(...half));
  const [u, v] = [(long + 1) % 3, (long + 2) % 3];
  const places: number[] = [];
  const corner = (along: number, i: number, j: number): number[] => {
    const p = [0, 0, 0];
    p[long] = along * half[long]!;
    p[u] = i * half[u]!;
    p[v] = j * half[v]!;
    return p;
  };
  const around = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ] as const;
  for (let line = 0; line <= BOX_LINES + 1; line++) {
    const along = (2 * line) / (BOX_LINES + 1) - 1;
    around.forEach(([i, j], k) => {
      const [ni, nj] = around[(k + 1) % 4]!;
      places.push(...corner(along, i, j), ...corner(along, ni, nj));
    });
  }
  for (const [i, j] of around) places.push(...corner(-1, i, j), ...corner(1, i, j));
  return toLines(places);
}

/** A grid, and a post that says which side is out. */
function createPlaneLines(): BufferGeometry {
  const places: number[] = [0, 0, 0, 0, PLANE_SHOWN / 4, 0];
  for (let i = 0; i <= PLANE_LINES; i++) {
    const at = PLANE_SHOWN * ((2 * i) / PLANE_LINES - 1);
    places.push(at, 0, -PLANE_SHOWN, at, 0, PLANE_SHOWN, -PLANE_SHOWN, 0, at, PLANE_SHOWN, 0, at);
  }
  return toLines(places);
}
