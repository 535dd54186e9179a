import { array } from 'yup';
import {
  addScaled,
  anglesOfRotation,
  dot,
  multiplyRotations,
  normalise,
  type Rotation,
  rotate,
  rotationBetween,
  rotationFromAngles,
  subtract,
} from '../../math/index.ts';
import {
  createUnitField,
  limitSize,
  listPlaceNumbers,
  type Position,
  positionField,
  type ShapeDefinition,
  sizeField,
} from './shape-definition.ts';

/** A box, turned by a unit quaternion (xyzw) about its middle. */
export interface BoxBody {
  kind: 'box';
  centre: Position;
  rotation: Rotation;
  halfSize: Position;
}

const AXES: readonly Position[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const SIDES = 'XYZ';
/** The handle that turns stands out of the top by this share of the height. */
const KNOB = 1.6;
/** Places along each side of a face that another shape is fitted to. */
const ALONG = 6;

export const box: ShapeDefinition<BoxBody> = {
  label: 'Box',
  fields: {
    centre: positionField,
    rotation: createUnitField(4),
    halfSize: array(sizeField).length(3).required(),
  },
  toMet: (shape) => shape,
  carry: ({ kind, centre, rotation, halfSize }, map) => ({
    kind,
    centre: map.position(centre),
    rotation: map.rotation(rotation),
    halfSize: halfSize.map((size) => size * map.scale) as Position,
  }),
  grow: (shape, margin) => ({
    ...shape,
    halfSize: shape.halfSize.map((half) => limitSize(half + margin)) as Position,
  }),
  listHandles: (shape) => [
    { id: 'whole', does: 'move', position: [...shape.centre] },
    ...AXES.map((axis, k) => ({
      id: `size${SIDES[k]}`,
      does: 'size' as const,
      position: placeIn(shape, axis, shape.halfSize[k]!),
    })),
    ...[1, 0].map((k) => ({
      id: `turn${SIDES[k]}`,
      does: 'turn' as const,
      position: placeIn(shape, AXES[k]!, KNOB * shape.halfSize[k]!),
    })),
  ],
  moveHandle: (shape, id, to) => {
    if (id === 'whole') return { ...shape, centre: [...to] };
    const k = SIDES.indexOf(id.at(-1)!);
    const axis = rotate(shape.rotation, AXES[k]!);
    const way = subtract(to, shape.centre);
    if (id.startsWith('turn')) {
      const turn = rotationBetween(axis, normalise(way));
      return { ...shape, rotation: multiplyRotations(turn, shape.rotation) };
    }
    // The face goes along; the one behind it stays.
    const half = limitSize((dot(way, axis) + shape.halfSize[k]!) / 2);
    const halfSize: Position = [...shape.halfSize];
    halfSize[k] = half;
    return { ...shape, halfSize, centre: placeIn(shape, AXES[k]!, half - shape.halfSize[k]!) };
  },
  listNumbers: (shape) => [
    ...shape.halfSize.map((half, k) => ({
      label: 'Size',
      unit: 'm' as const,
      isSize: true,
      value: 2 * half,
      change: (value: number): BoxBody => {
        const halfSize: Position = [...shape.halfSize];
        halfSize[k] = limitSize(value / 2);
        return { ...shape, halfSize };
      },
    })),
    ...listPlaceNumbers('Middle', shape.centre, (centre): BoxBody => ({ ...shape, centre })),
    ...anglesOfRotation(shape.rotation).map((angle, k, angles) => ({
      label: 'Turn',
      unit: 'rad' as const,
      isSize: false,
      value: angle,
      change: (value: number): BoxBody => {
        const typed = [...angles] as Position;
        typed[k] = value;
        return { ...shape, rotation: rotationFromAngles(typed) };
      },
    })),
  ],
  sample: (shape) => {
    const places: number[] = [];
    for (const k of [0, 1, 2]) {
      for (const sign of [-1, 1]) {
        for (let i = 0; i <= ALONG; i++) {
          for (let j = 0; j <= ALONG; j++) {
            const local: Position = [0, 0, 0];
            local[k] = sign * shape.halfSize[k]!;
            local[(k + 1) % 3] = ((2 * i) / ALONG - 1) * shape.halfSize[(k + 1) % 3]!;
            local[(k + 2) % 3] = ((2 * j) / ALONG - 1) * shape.halfSize[(k + 2) % 3]!;
            places.push(...placeIn(shape, local, 1));
          }
        }
      }
    }
    return Float32Array.from(places);
  },
  toImplicit: ({ halfSize }) => ({ type: 'box', box: { size: halfSize.map((half) => 2 * half) } }),
  getFrame: ({ centre, rotation }) => ({ translation: [...centre], rotation: [...rotation] }),
};

function placeIn({ centre, rotation }: BoxBody, local: Readonly<Position>, share: number): Position {
  return addScaled(centre, rotate(rotation, local), share);
}
