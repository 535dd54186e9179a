import { array, number } from 'yup';
import {
  addScaled,
  anglesOfRotation,
  cross,
  normalise,
  pickAcross,
  rotate,
  rotationBetween,
  rotationFromAngles,
  subtract,
} from '../../math/index.ts';
import { listPlaceNumbers, type Position, positionField, type ShapeDefinition } from './shape-definition.ts';

/** Everything behind a plane; the unit normal points out of it. */
export interface PlaneBody {
  kind: 'plane';
  point: Position;
  normal: Position;
}

/** The handle that turns it stands so far off, m; and it is sampled so far around. */
const KNOB = 0.12;
export const PLANE_SHOWN = 0.4;
const ALONG = 8;
const UP: Position = [0, 1, 0];

export const plane: ShapeDefinition<PlaneBody> = {
  label: 'Plane',
  fields: {
    point: positionField,
    normal: array(number().required())
      .length(3)
      .required()
      .test('unit', 'a normal has length 1', (n) => isUnit(n as number[])),
  },
  toMet: (shape) => shape,
  carry: ({ kind, point, normal }, map) => ({
    kind,
    point: map.position(point),
    normal: map.direction(normal),
  }),
  grow: (shape, margin) => ({ ...shape, point: addScaled(shape.point, shape.normal, margin) }),
  listHandles: ({ point, normal }) => [
    { id: 'whole', does: 'move', position: [...point] },
    { id: 'turn', does: 'turn', position: addScaled(point, normal, KNOB) },
  ],
  moveHandle: (shape, id, to) => {
    if (id === 'whole') return { ...shape, point: [...to] };
    const way = subtract(to, shape.point);
    return way.some((value) => value !== 0) ? { ...shape, normal: normalise(way) } : shape;
  },
  listNumbers: (shape) => [
    ...listPlaceNumbers('Middle', shape.point, (point): PlaneBody => ({ ...shape, point })),
    ...anglesOfRotation(rotationBetween(UP, shape.normal)).map((angle, k, angles) => ({
      label: 'Turn',
      unit: 'rad' as const,
      isSize: false,
      value: angle,
      change: (value: number): PlaneBody => {
        const typed = [...angles] as Position;
        typed[k] = value;
        return { ...shape, normal: normalise(rotate(rotationFromAngles(typed), UP)) };
      },
    })),
  ],
  sample: ({ point, normal }) => {
    const across = pickAcross(normal);
    const other = cross(normal, across);
    const places: number[] = [];
    for (let i = 0; i <= ALONG; i++) {
      for (let j = 0; j <= ALONG; j++) {
        const at = addScaled(point, across, ((2 * i) / ALONG - 1) * PLANE_SHOWN);
        places.push(...addScaled(at, other, ((2 * j) / ALONG - 1) * PLANE_SHOWN));
      }
    }
    return Float32Array.from(places);
  },
  toImplicit: () => ({ type: 'plane', plane: { doubleSided: false } }),
  getFrame: ({ point, normal }) => ({ translation: [...point], rotation: rotationBetween(UP, normal) }),
};

function isUnit(n: readonly number[] | undefined): boolean {
  return n !== undefined && Math.abs(n.reduce((sum, value) => sum + value * value, 0) - 1) < 1e-4;
}
