import { lazy, mixed, object, type Schema, string } from 'yup';
import type { CollisionShape, JointShape } from './collision-shape.ts';
import { type BoxBody, box } from './shapes/box.ts';
import { capsule } from './shapes/capsule.ts';
import { type HullBody, hull } from './shapes/hull.ts';
import { type PlaneBody, plane } from './shapes/plane.ts';
import type { RoundDefinition, RoundNumbers, RoundShape } from './shapes/round-shape.ts';
import type { ShapeDefinition } from './shapes/shape-definition.ts';
import { createScaleMap } from './shapes/shape-map.ts';
import { sphere } from './shapes/sphere.ts';
import { taperedCapsule } from './shapes/tapered-capsule.ts';

/** One collision body. Lengths in metres in its joint's own space. */
export type BodyShape = RoundShape | BoxBody | HullBody | PlaneBody;

export type ShapeKind = BodyShape['kind'];

type Definitions = { [K in ShapeKind]: ShapeDefinition<Extract<BodyShape, { kind: K }>> };

/** What may be authored, in the order in which it is offered. What is known of a shape stands in its file. */
export const SHAPES = { sphere, capsule, taperedCapsule, box, hull, plane } satisfies {
  [K in ShapeKind]: unknown;
} as unknown as Definitions & Record<RoundShape['kind'], RoundDefinition>;

export const SHAPE_KINDS = Object.keys(SHAPES) as readonly ShapeKind[];

/** What is known of the kind of a shape. */
export function getShapeDefinition<S extends BodyShape>({ kind }: S): ShapeDefinition<S> {
  return SHAPES[kind] as unknown as ShapeDefinition<S>;
}

/** Whether a shape is a sphere, a capsule or a tapered capsule. */
export function isRoundBody(shape: BodyShape): shape is RoundShape {
  return Object.hasOwn(SHAPES[shape.kind], 'toRound');
}

/** A round shape as it is: ends and radii that its kind does not have are those it has. */
export function getRoundShape(shape: RoundShape): RoundNumbers {
  return SHAPES[shape.kind].toRound(shape);
}

/** A shape whose lengths count otherwise. */
export function scaleShape<S extends BodyShape>(shape: S, scale: number): S {
  return getShapeDefinition(shape).carry(shape, createScaleMap(scale));
}

/** A shape larger all around. @param margin - m. */
export function growShape<S extends BodyShape>(shape: S, margin: number): S {
  return getShapeDefinition(shape).grow(shape, margin);
}

/** A shape on a joint, as cloth meets it. @param margin - Added all around, m. */
export function meetShape(shape: BodyShape, node: number, margin = 0): CollisionShape {
  return { ...getShapeDefinition(shape).toMet(shape), node, ...(margin !== 0 && { margin }) };
}

/** Schema of a shape: that of its kind. */
export function createShapeField(): Schema {
  return lazy((value: { kind?: unknown } | undefined) => {
    const kind = value?.kind;
    if (typeof kind !== 'string' || !Object.hasOwn(SHAPES, kind)) {
      return mixed().test('kind', `"${kind}" is not a shape of a body`, () => false);
    }
    const { fields } = SHAPES[kind as ShapeKind];
    return object({ kind: string().oneOf([kind]).required(), ...fields })
      .noUnknown()
      .required();
  }) as unknown as Schema;
}

/** Numbers per body in a packed row: ax ay az ra bx by bz rb. */
export const BODY_STRIDE = 8;

/**
 * All kinds as tapered capsules: a sphere is one of no length, a capsule one of equal radii. A tapered capsule
 * whose larger end swallows the smaller is that end's sphere.
 * @returns [m, 8] in joint space.
 */
export function packBodies(bodies: readonly (JointShape & { margin?: number })[]): {
  rows: Float32Array;
  nodes: Int32Array;
} {
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
    const { margin = 0 } = body;
    rows.set([...a, radiusA + margin, ...b, radiusB + margin], BODY_STRIDE * i);
  });
  return { rows, nodes: Int32Array.from(bodies, (body) => body.node) };
}
