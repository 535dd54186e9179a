import {
  addScaled,
  findPrincipalAxes,
  type MutableVector3,
  measureExtent,
  type PrincipalAxes,
  rotationBetween,
  rotationFromAxes,
} from '../math/index.ts';
import { type BodyShape, getShapeDefinition, isRoundBody, type ShapeKind } from './body-shape.ts';
import { fitSphere } from './fit-sphere.ts';
import { fitTaperedCapsule } from './fit-tapered-capsule.ts';
import { reduceHull } from './reduce-hull.ts';
import type { PlaneBody } from './shapes/plane.ts';
import { limitSize } from './shapes/shape-definition.ts';

/** Vertices of a hull that another shape becomes. */
const HULL_VERTICES = 24;
/** An even fit of a shape to a shape: what stands beyond counts as much as what is left out. */
const EVEN = { margin: 0, overhangWeight: 1 } as const;

/** What stands for a plane, which is endless: a block behind it, half so wide, m. */
const BLOCK = 0.1;

/** A shape as the shape of another kind that fits it best; round kinds keep their ends and radii, a plane counts as a block behind it. */
export function convertShape(shape: BodyShape, kind: ShapeKind): BodyShape {
  if (shape.kind === kind) return shape;
  if (isRoundBody(shape) && (kind === 'sphere' || kind === 'capsule' || kind === 'taperedCapsule')) {
    return { ...shape, kind };
  }
  const source = shape.kind === 'plane' ? toBlock(shape) : shape;
  return source.kind === kind ? source : fitShape(getShapeDefinition(source).sample(source), kind);
}

/**
 * The shape of a kind that fits places on a surface best: round ones by least squares, a box along their main directions, a hull within
 * their own, a plane through their middle across the shortest direction.
 *
 * @param points - [n, 3] m, at least 8, not all in one place.
 * @param hullVertices - Of a hull, at most.
 */
export function fitShape(points: Float32Array, kind: ShapeKind, hullVertices = HULL_VERTICES): BodyShape {
  const { middle, axes } = findPrincipalAxes(points);
  switch (kind) {
    case 'sphere': {
      const { centre, radius: fitted } = fitSphere(points);
      const radius = limitSize(fitted);
      return { kind, a: centre, b: [...centre], radiusA: radius, radiusB: radius };
    }
    case 'capsule':
    case 'taperedCapsule': {
      const [least, most] = measureExtent(points, middle, axes[0]);
      const [from, to] = [addScaled(middle, axes[0], 0.6 * least), addScaled(middle, axes[0], 0.6 * most)];
      const fitted = fitTaperedCapsule(points, from, to, EVEN)!;
      const { a, b } = fitted;
      const [radiusA, radiusB] = [limitSize(fitted.radiusA), limitSize(fitted.radiusB)];
      if (kind === 'taperedCapsule') return { kind, a, b, radiusA, radiusB };
      const mean = (radiusA + radiusB) / 2;
      return { kind, a, b, radiusA: mean, radiusB: mean };
    }
    case 'box':
      return fitBox(points, { middle, axes });
    case 'hull':
      return { kind, points: reduceHull(points, hullVertices) };
    case 'plane':
      return { kind, point: middle, normal: axes[2] };
  }
}

function toBlock({ point, normal }: PlaneBody): BodyShape {
  return {
    kind: 'box',
    centre: addScaled(point, normal, -BLOCK),
    rotation: rotationBetween([0, 1, 0], normal),
    halfSize: [BLOCK, BLOCK, BLOCK],
  };
}

function fitBox(points: Float32Array, { middle, axes }: PrincipalAxes): BodyShape {
  let centre = middle;
  // Along Y lies the longest, as in limbs.
  const [y, x, z] = axes;
  const halfSize = [x, y, z].map((axis) => {
    const [least, most] = measureExtent(points, middle, axis);
    centre = addScaled(centre, axis, (least + most) / 2);
    return limitSize((most - least) / 2);
  }) as MutableVector3;
  return { kind: 'box', centre, rotation: rotationFromAxes(x, y), halfSize };
}
