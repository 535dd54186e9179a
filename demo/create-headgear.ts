import type { Section } from '../core/rig/index.ts';
import { bindTo, createSection, fill, type Rgb } from './create-section.ts';
import { JOINT_INDEX } from './figure/joints.ts';
import { createHoodField, createMaskField, type MaskCut, smoothStep } from './figure/mask-field.ts';
import { polygonise, type Surface } from './figure/polygonise.ts';
import { computeFieldNormals, joinNear, projectOnto, reduceSurface } from './figure/refine-surface.ts';

/** Wood, paint and hood of a character's head. Linear colours. */
export interface Headgear {
  cut: MaskCut;
  wood: Rgb;
  paint: Rgb;
  /** How far inside the paint a place of the mask lies, m. @param x - Sideways, m, always positive. @param y - Height, m. */
  paintDepth: (x: number, y: number) => number;
  hood: Rgb;
}

const MASK_CELL = 0.0021;
const HOOD_CELL = 0.0036;

/**
 * The mask that the people of the fen wear instead of a face, carved of reed wood, and the hood behind it.
 * @param meshIndex - Where the first of the two meshes stands.
 */
export async function createHeadgear(look: Headgear, meshIndex: number): Promise<[Section, Section]> {
  const field = createMaskField(look.cut);
  const dense = polygonise(() => field, [-0.1, 1.45, 0.01, 0.1, 1.76, 0.15], MASK_CELL);
  projectOnto(dense, field, 0.002);
  const { surface: mask } = await reduceSurface(joinNear(dense), 10_000);
  const hoodField = createHoodField(look.cut);
  const denseHood = polygonise(() => hoodField, [-0.12, 1.49, -0.15, 0.12, 1.8, 0.08], HOOD_CELL);
  projectOnto(denseHood, hoodField, 0.004);
  const { surface: hood } = await reduceSurface(joinNear(denseHood), 5_000);
  return [
    createSection('Mask', meshIndex, mask, {
      normals: computeFieldNormals(mask.positions, field, 0.0008),
      colors: fill(mask, (v) => colorMask(look, mask.positions.subarray(3 * v, 3 * v + 3))),
      ...bindTo(mask, 'head'),
    }),
    createSection('Hood', meshIndex + 1, hood, {
      normals: computeFieldNormals(hood.positions, hoodField, 0.002),
      colors: fill(hood, (v) => colorHood(look.hood, hood.positions.subarray(3 * v, 3 * v + 3))),
      ...followHead(hood),
    }),
  ];
}

/** Reed wood has long grain from brow to chin; the paint lies on the outside. */
function colorMask({ wood, paint, paintDepth }: Headgear, place: ArrayLike<number>): Rgb {
  const [x, y, z] = [place[0]!, place[1]!, place[2]!];
  const grain = Math.sin(420 * x + 5 * Math.sin(31 * y) + 2.2 * Math.sin(67 * y + 90 * x));
  const shade = 0.92 + 0.08 * grain - 0.35 * smoothStep(0.05, 0.028, z);
  const painted = 0.94 * smoothStep(-0.0016, 0.0016, paintDepth(Math.abs(x), y));
  return wood.map((value, k) => (value + painted * (paint[k]! - value)) * shade) as unknown as Rgb;
}

/** Makes dark what is seen of the body through the slits of a mask. @param colors - [n, 3], written to. */
export function darkenBehindMask(positions: Float32Array, colors: Float32Array): void {
  for (let i = 0; i < positions.length; i += 3) {
    if (positions[i + 1]! < 1.525 || positions[i + 2]! < 0.04) continue;
    for (let k = 0; k < 3; k++) colors[i + k] = 0.06 * colors[i + k]!;
  }
}

/** Darker in the folds below. */
function colorHood(color: Rgb, place: ArrayLike<number>): Rgb {
  const shade = 1 - 0.25 * smoothStep(1.56, 1.5, place[1]!);
  return color.map((value) => value * shade) as unknown as Rgb;
}

/** A hood goes with the head, and towards its lower end with the neck. */
function followHead({ positions }: Surface): Pick<Section, 'jointIndices' | 'jointWeights'> {
  const count = positions.length / 3;
  const jointIndices = new Uint16Array(4 * count);
  const jointWeights = new Float32Array(4 * count);
  const [head, neck] = [JOINT_INDEX.get('head')!, JOINT_INDEX.get('neck')!];
  for (let v = 0; v < count; v++) {
    const onNeck = smoothStep(1.575, 1.505, positions[3 * v + 1]!);
    // A joint without weight is number 0, as the standard asks.
    jointIndices.set([onNeck < 1 ? head : 0, onNeck > 0 ? neck : 0, 0, 0], 4 * v);
    jointWeights.set([1 - onNeck, onNeck, 0, 0], 4 * v);
  }
  return { jointIndices, jointWeights };
}
