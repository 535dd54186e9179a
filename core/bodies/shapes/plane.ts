import { addScaled, cross, normalise, pickAcross, rotationBetween, subtract } from '../../math/index.ts';
import {
  createUnitField,
  listPlaceNumbers,
  type Position,
  positionField,
  type ShapeDefinition,
} from './shape-definition.ts';

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
    normal: createUnitField(3),
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
    ...(['Tilt', 'Heading'] as const).map((label) => {
      const angles = {
        Tilt: Math.acos(Math.max(-1, Math.min(1, shape.normal[1]))),
        Heading: Math.atan2(shape.normal[0], shape.normal[2]),
      };
      return {
        label,
        unit: 'rad' as const,
        isSize: false,
        value: angles[label],
        change: (value: number): PlaneBody => ({ ...shape, normal: toNormal({ ...angles, [label]: value }) }),
      };
    }),
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

/** The direction that is so far from up, towards so much from Z to X, rad. */
function toNormal({ Tilt, Heading }: { Tilt: number; Heading: number }): Position {
  const out = Math.sin(Tilt);
  return [out * Math.sin(Heading), Math.cos(Tilt), out * Math.cos(Heading)];
}
