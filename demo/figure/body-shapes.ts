import type { MorphTarget, Section } from '../../core/rig/index.ts';
import { JOINTS } from './joints.ts';

/** How far the surface over a joint moves outward when broad, m; the weights of the skin mix them. */
const BROAD: readonly (readonly [RegExp, number])[] = [
  [/^hips$/, 0.02],
  [/^waist$/, 0.03],
  [/^ribs$/, 0.024],
  [/^chest$/, 0.018],
  [/^(collar|arm)_/, 0.01],
  [/^forearm_/, 0.006],
  [/^leg_/, 0.015],
  [/^shin_/, 0.006],
  [/^neck$/, 0.005],
];
/** Slight is this much of broad. */
const SLIGHT_SHARE = -0.4;

/** Share of the stoop that what hangs on a joint takes. Arms go with the chest. */
const STOOP: readonly (readonly [RegExp, number])[] = [
  [/^waist$/, 0.25],
  [/^ribs$/, 0.55],
  [/^(chest|collar|arm|forearm|wrist|thumb|index|middle|ring|little)/, 0.85],
  [/^neck$/, 0.95],
  [/^head$/, 1],
];
const STOOP_ANGLE = (15 * Math.PI) / 180;
/** Height and depth of the axis that the stoop turns about. */
const STOOP_AXIS = [1.04, 0] as const;

/** Broad, slight and stooped, as offsets of a section that stands in the bind pose. */
export function createBodyShapes(section: Section): MorphTarget[] {
  const { positions, normals } = section;
  const outward = mixByWeight(section, BROAD);
  const stoop = mixByWeight(section, STOOP);
  const shape = (name: string, offsetAt: (v: number) => readonly number[]): MorphTarget => ({
    name,
    positions: Float32Array.from(Array.from(outward.keys()).flatMap((v) => [...offsetAt(v)])),
    normals: null,
  });
  const along = (v: number, displacement: number): number[] =>
    [0, 1, 2].map((k) => displacement * normals[3 * v + k]!);
  return [
    shape('broad', (v) => along(v, outward[v]!)),
    shape('slight', (v) => along(v, SLIGHT_SHARE * outward[v]!)),
    shape('stooped', (v) => {
      const [y, z] = [positions[3 * v + 1]! - STOOP_AXIS[0], positions[3 * v + 2]! - STOOP_AXIS[1]];
      const angle = STOOP_ANGLE * stoop[v]!;
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      return [0, c * y - s * z - y, s * y + c * z - z];
    }),
  ];
}

function mixByWeight(
  { influences, jointIndices, jointWeights, positions }: Section,
  table: readonly (readonly [RegExp, number])[],
): Float32Array {
  const ofJoint = JOINTS.map(({ name }) => table.find(([pattern]) => pattern.test(name))?.[1] ?? 0);
  return Float32Array.from({ length: positions.length / 3 }, (_, v) => {
    let sum = 0;
    for (let k = influences * v; k < influences * (v + 1); k++)
      sum += jointWeights[k]! * ofJoint[jointIndices[k]!]!;
    return sum;
  });
}
