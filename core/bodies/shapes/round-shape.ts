import {
  addScaled,
  cross,
  distanceBetween,
  dot,
  normalise,
  pickAcross,
  rotationBetween,
  subtract,
} from '../../math/index.ts';
import {
  limitSize,
  listPlaceNumbers,
  type Position,
  positionField,
  type ShapeDefinition,
  type ShapeHandle,
  sizeField,
} from './shape-definition.ts';

export interface RoundNumbers {
  a: Position;
  b: Position;
  radiusA: number;
  radiusB: number;
}

/** A shape between two balls: a sphere, a capsule or a tapered capsule. It uses some of the ends and radii; the others are kept. */
export interface RoundShape extends RoundNumbers {
  kind: 'sphere' | 'capsule' | 'taperedCapsule';
}

interface RoundWords {
  label: string;
  /** Ends that it has, and what they are called. */
  ends: Readonly<Partial<Record<'a' | 'b', string>>>;
  /** Radii that it has, and what they are called. */
  radii: Readonly<Partial<Record<'radiusA' | 'radiusB', string>>>;
  /** The tapered capsule that it is. */
  toRound(shape: RoundNumbers): RoundNumbers;
  /** As an implicit shape along Y, `a` at the bottom. */
  toImplicit(shape: RoundNumbers): object;
}

export interface RoundDefinition extends ShapeDefinition<RoundShape>, RoundWords {
  toImplicit(shape: RoundNumbers): object;
}

/** Distance between the ends, m. */
export function measureLength({ a, b }: Pick<RoundNumbers, 'a' | 'b'>): number {
  return distanceBetween(a, b);
}

const AROUND = 12;
const CAP_STEPS = 3;
const ALONG = 6;

/** All that is known of a round shape. */
export function defineRound(words: RoundWords): RoundDefinition {
  const { ends, radii, toRound } = words;
  const listEnds = (['a', 'b'] as const).filter((end) => ends[end]);
  const listRadii = (['radiusA', 'radiusB'] as const).filter((radius) => radii[radius]);
  return {
    ...words,
    fields: { a: positionField, b: positionField, radiusA: sizeField, radiusB: sizeField },
    toMet: (shape) => ({ kind: shape.kind, ...toRound(shape) }),
    carry: ({ kind, a, b, radiusA, radiusB }, { position, scale }) => ({
      kind,
      a: position(a),
      b: position(b),
      radiusA: radiusA * scale,
      radiusB: radiusB * scale,
    }),
    grow: (shape, margin) => ({
      ...shape,
      radiusA: limitSize(shape.radiusA + margin),
      radiusB: limitSize(shape.radiusB + margin),
    }),
    listHandles: (shape) => {
      const round = toRound(shape);
      const side = findSide(round);
      const handles: ShapeHandle[] = [];
      if (listEnds.length > 1)
        handles.push({ id: 'whole', does: 'move', position: between(round.a, round.b) });
      for (const end of listEnds) handles.push({ id: end, does: 'move', position: [...shape[end]] });
      for (const radius of listRadii) {
        const end = radius === 'radiusA' ? round.a : round.b;
        handles.push({ id: radius, does: 'size', position: addScaled(end, side, round[radius]) });
      }
      return handles;
    },
    moveHandle: (shape, id, to) => {
      if (id === 'a' || id === 'b') return { ...shape, [id]: [...to] };
      if (id === 'radiusA' || id === 'radiusB') {
        return { ...shape, [id]: limitSize(distanceBetween(to, id === 'radiusA' ? shape.a : shape.b)) };
      }
      const { a, b } = toRound(shape);
      const d = subtract(to, between(a, b));
      return { ...shape, a: addScaled(shape.a, d, 1), b: addScaled(shape.b, d, 1) };
    },
    listNumbers: (shape) => [
      ...listRadii.map((radius) => ({
        label: radii[radius]!,
        unit: 'm' as const,
        isSize: true,
        value: shape[radius],
        change: (value: number) => ({ ...shape, [radius]: limitSize(value) }),
      })),
      ...listEnds.flatMap((end) =>
        listPlaceNumbers(ends[end]!, shape[end], (place): RoundShape => ({ ...shape, [end]: place })),
      ),
    ],
    sample: (shape) => sampleRound(toRound(shape)),
    getFrame: (shape) => {
      const { a, b } = toRound(shape);
      if (!ends.b) return { translation: [...a], rotation: [0, 0, 0, 1] };
      const d = subtract(b, a);
      const rotation = dot(d, d) > 0 ? rotationBetween([0, 1, 0], normalise(d)) : [0, 0, 0, 1];
      return { translation: between(a, b), rotation: rotation as [number, number, number, number] };
    },
  };
}

function between(p: Readonly<Position>, q: Readonly<Position>): Position {
  return [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2];
}

/** Where the handles of the radii stand: across the axis, beside it as it is drawn. */
function findSide({ a, b }: RoundNumbers): Position {
  const d = subtract(b, a);
  const side = cross([0, 0, 1], dot(d, d) > 0 ? d : [0, 1, 0]);
  return dot(side, side) > 1e-12 ? normalise(side) : [1, 0, 0];
}

function sampleRound({ a, b, radiusA, radiusB }: RoundNumbers): Float32Array {
  const d = subtract(b, a);
  const length = Math.sqrt(dot(d, d));
  const axis: Position = length > 0 ? normalise(d) : [0, 1, 0];
  const across = pickAcross(axis);
  const other = cross(axis, across);
  const slant = length > 0 ? Math.asin(Math.max(-1, Math.min(1, (radiusA - radiusB) / length))) : 0;
  // Rings: how far along the axis from a, and how wide.
  const rings: [number, number][] = [];
  for (let i = 1; i <= CAP_STEPS; i++) {
    const low = -Math.PI / 2 + (i / CAP_STEPS) * (slant + Math.PI / 2);
    const high = Math.PI / 2 - (i / CAP_STEPS) * (Math.PI / 2 - slant);
    rings.push([radiusA * Math.sin(low), radiusA * Math.cos(low)]);
    rings.push([length + radiusB * Math.sin(high), radiusB * Math.cos(high)]);
  }
  const [first, last] = [rings.at(-2)!, rings.at(-1)!];
  for (let i = 1; i < ALONG && length > 0; i++) {
    const t = i / ALONG;
    rings.push([first[0] + t * (last[0] - first[0]), first[1] + t * (last[1] - first[1])]);
  }
  const places: number[] = [...addScaled(a, axis, -radiusA), ...addScaled(b, axis, radiusB)];
  for (const [along, radius] of rings) {
    for (let k = 0; k < AROUND; k++) {
      const angle = (2 * Math.PI * k) / AROUND;
      const out = addScaled(addScaled(a, axis, along), across, radius * Math.cos(angle));
      places.push(...addScaled(out, other, radius * Math.sin(angle)));
    }
  }
  return Float32Array.from(places);
}
