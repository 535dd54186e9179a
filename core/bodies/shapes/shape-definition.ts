import { array, number, type Schema } from 'yup';
import type { MutableVector3, Rotation } from '../../math/index.ts';
import type { ShapeMap } from './shape-map.ts';

export type Position = MutableVector3;

/** A shape as cloth meets it, in its joint's space, m. */
export type MetShape =
  | {
      kind: 'sphere' | 'capsule' | 'taperedCapsule';
      a: Position;
      b: Position;
      radiusA: number;
      radiusB: number;
    }
  | { kind: 'box'; centre: Position; rotation: Rotation; halfSize: Position }
  | { kind: 'hull'; points: Float32Array }
  | { kind: 'plane'; point: Position; normal: Position };

/** What an artist takes hold of to change a shape. */
export interface ShapeHandle {
  /** Its name within the shape. */
  id: string;
  does: 'move' | 'size' | 'turn';
  /** Where it is, in the joint's space, m. */
  position: Position;
}

/** A number of a shape that can be typed. */
export interface ShapeNumber<S> {
  /** What it is called; several of one name stand in a row, in the order of X, Y and Z. */
  label: string;
  unit: 'm' | 'rad';
  /** Whether it is the size of something, and so positive. */
  isSize: boolean;
  /** m, or rad. */
  value: number;
  /** The shape with another value. */
  change(value: number): S;
}

/** Where a shape's node stands in a shipped file, in the joint's space. */
export interface ShapeFrame {
  translation: Position;
  rotation: Rotation;
}

/** A shape of collision body: all that is known of it stands in one file. */
export interface ShapeDefinition<S> {
  label: string;
  /** Its fields but `kind`, each with its range. */
  fields: { [Key in Exclude<keyof S, 'kind'>]-?: Schema };
  /** As cloth meets it. */
  toMet(shape: S): MetShape;
  /** Carried by a similarity. */
  carry(shape: S, map: ShapeMap): S;
  /** Larger all around by a margin, m. */
  grow(shape: S, margin: number): S;
  listHandles(shape: S): ShapeHandle[];
  /** With a handle at another place, m. @param shape - As it was when the handle was taken hold of. */
  moveHandle(shape: S, id: string, to: Position): S;
  listNumbers(shape: S): ShapeNumber<S>[];
  /** Places all over its surface, of an endless one about its middle: what another shape is fitted to. [n, 3] m. */
  sample(shape: S): Float32Array;
  /** As an implicit shape of a shipped file, in its frame, m; null when it takes a mesh. */
  toImplicit(shape: S): object | null;
  getFrame(shape: S): ShapeFrame;
}

/** Sizes of bodies, m. */
const LEAST_SIZE = 0.001;
const MOST_SIZE = 10;

export const positionField = array(number().required()).length(3).required();
export const sizeField = number().required().min(LEAST_SIZE).max(MOST_SIZE);

/** Numbers of length 1: a direction, or a turn as a quaternion. */
export function createUnitField(count: number): Schema {
  return array(number().required())
    .length(count)
    .required()
    .test('unit', 'these numbers are of length 1', (values) => isUnit(values ?? []));
}

function isUnit(values: readonly number[]): boolean {
  return Math.abs(values.reduce((sum, value) => sum + value * value, 0) - 1) < 1e-4;
}

/** A size that was dragged or typed, within its range, m. */
export function limitSize(size: number): number {
  return Math.min(MOST_SIZE, Math.max(LEAST_SIZE, size));
}

/** Three numbers of a place, under one name. */
export function listPlaceNumbers<S>(
  label: string,
  place: Readonly<Position>,
  change: (place: Position) => S,
): ShapeNumber<S>[] {
  return place.map((value, axis) => ({
    label,
    unit: 'm',
    isSize: false,
    value,
    change: (typed) => change(place.map((old, k) => (k === axis ? typed : old)) as Position),
  }));
}
