import { array, number, object, type Schema, string } from 'yup';
import { capsule } from './shapes/capsule.ts';
import type { ShapeDefinition } from './shapes/shape-definition.ts';
import { sphere } from './shapes/sphere.ts';
import { taperedCapsule } from './shapes/tapered-capsule.ts';

/** What may be authored, in the order in which it is offered. What is known of a shape stands in its file. */
export const SHAPES = { sphere, capsule, taperedCapsule } satisfies Record<string, ShapeDefinition>;

export type ShapeKind = keyof typeof SHAPES;
export const SHAPE_KINDS = Object.keys(SHAPES) as readonly ShapeKind[];

/** One collision body. Lengths in metres in its joint's own space. */
export interface BodyShape {
  /** Which of the ends and radii count, see `SHAPES`. */
  kind: ShapeKind;
  a: [number, number, number];
  b: [number, number, number];
  radiusA: number;
  radiusB: number;
}

/** A shape on a joint, by its place in the skeleton. */
export interface JointShape extends BodyShape {
  node: number;
}

/** A shape as it is: ends and radii that its kind does not have are those it has. */
export function getRoundShape(shape: BodyShape): Omit<BodyShape, 'kind'> {
  return SHAPES[shape.kind].toRound(shape);
}

/** A shape whose lengths count otherwise. */
export function scaleShape({ kind, a, b, radiusA, radiusB }: BodyShape, scale: number): BodyShape {
  const times = (position: BodyShape['a']): BodyShape['a'] =>
    position.map((value) => value * scale) as BodyShape['a'];
  return { kind, a: times(a), b: times(b), radiusA: radiusA * scale, radiusB: radiusB * scale };
}

/** Schema of a shape. */
export function createShapeField(): Schema {
  const position = array(number().required()).length(3).required();
  const radius = number().required().min(0.001).max(10);
  return object({
    kind: string()
      .oneOf([...SHAPE_KINDS])
      .required(),
    a: position,
    b: position,
    radiusA: radius,
    radiusB: radius,
  })
    .noUnknown()
    .required();
}

/** Numbers per body in a packed row: ax ay az ra bx by bz rb. */
export const BODY_STRIDE = 8;

/**
 * All kinds as tapered capsules: a sphere is one of no length, a capsule one of equal radii. A tapered capsule
 * whose larger end swallows the smaller is that end's sphere.
 * @returns [m, 8] in joint space.
 */
export function packBodies(bodies: readonly JointShape[]): { rows: Float32Array; nodes: Int32Array } {
  const rows = new Float32Array(bodies.length * BODY_STRIDE);
  bodies.forEach((body, i) => {
    let { a, b, radiusA, radiusB } = getRoundShape(body);
    const [dx, dy, dz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (length <= Math.abs(radiusA - radiusB)) {
      if (radiusA >= radiusB) {
        b = a;
        radiusB = radiusA;
      } else {
        a = b;
        radiusA = radiusB;
      }
    }
    rows.set([...a, radiusA, ...b, radiusB], BODY_STRIDE * i);
  });
  return { rows, nodes: Int32Array.from(bodies, (body) => body.node) };
}
