import { SpatialIndex } from '../core/math/index.ts';
import type { Character, Section } from '../core/rig/index.ts';
import { createHeadgear, darkenBehindMask, type Headgear } from './create-headgear.ts';
import { bindTo, createSection, fill, type Rgb } from './create-section.ts';
import { createBodyField, createFastBodyField, describePosition } from './figure/body-field.ts';
import type { DistanceFunction } from './figure/distance.ts';
import type { Cover } from './figure/figure-parts.ts';
import { measureHat } from './figure/hat-field.ts';
import { createInverseBinds, createSkeleton, JOINT_INDEX, JOINTS } from './figure/joints.ts';
import { PILOT_CUT } from './figure/mask-field.ts';
import { polygonise, type Surface } from './figure/polygonise.ts';
import { computeFieldNormals, joinNear, projectOnto, reduceSurface } from './figure/refine-surface.ts';
import { computeFigureWeights, keepFourLargest } from './figure/skin-weights.ts';
import { createPoncho } from './garments/poncho.ts';
import { createSashTail } from './garments/sash-tail.ts';
import { type Sheet, spreadAround } from './garments/sheet.ts';
import { layUvs } from './garments/sheet-layouts.ts';
import { bakeClip } from './motion/bake-clip.ts';
import { PILOT_CLIPS } from './motion/clips.ts';

/** Linear colours of the figure's covers and garments: clay tones, so that colour on a garment stands out. */
const COVER_COLORS: Record<Cover, Rgb> = {
  skin: [0.56, 0.42, 0.32],
  shirt: [0.47, 0.43, 0.36],
  trousers: [0.27, 0.25, 0.21],
  boots: [0.115, 0.098, 0.08],
  belt: [0.17, 0.125, 0.085],
};
const HAT_COLOR: Rgb = [0.16, 0.138, 0.105];
const PONCHO_COLOR: Rgb = [0.125, 0.185, 0.2];
const SASH_COLOR: Rgb = [0.32, 0.13, 0.085];

const CELL = 0.0062;
const MESH_NODES = ['Body', 'Hat', 'Sash tail', 'Poncho', 'Mask', 'Hood'] as const;

/** Pale wood with a band of river green across the cheeks. */
const HEADGEAR: Headgear = {
  cut: PILOT_CUT,
  wood: [0.52, 0.4, 0.25],
  paint: [0.07, 0.17, 0.16],
  paintDepth: (x, y) => Math.min(0.0085 - Math.abs(y - 1.609 - 0.22 * x), x - 0.013),
  hood: [0.19, 0.13, 0.085],
};

/** Weights on leg joints go to the hips, those on hands to the forearms: a poncho hangs from the trunk and arms. */
const PONCHO_HANDS_OVER: readonly [RegExp, string][] = [
  [/^(leg|shin|heel|toes)_[lr]$/, 'hips'],
  [/^(?:wrist|thumb|index|middle|ring|little)(?:_[abc])?_([lr])$/, 'forearm_$1'],
  [/^head$/, 'neck'],
];

/**
 * The Ferry pilot: a figure of about 9,000 vertices (welded) on 53 joints with a hat, a mask and a hood, a long oilskin poncho,
 * a sash tail, and five clips. The same character at every call.
 */
export async function createFerryPilot(): Promise<Character> {
  const skeleton = createSkeleton(MESH_NODES);
  const field = createFastBodyField();
  const dense = polygonise(createBodyField, [-0.74, -0.03, -0.24, 0.74, 1.8, 0.24], CELL);
  projectOnto(dense, field, 0.01);
  const denseWeights = computeFigureWeights(dense);
  const body = await createBody(dense, denseWeights, field);
  const poncho = createPoncho(field);
  const ponchoWeights = transferWeights(poncho, dense, denseWeights);
  return {
    name: 'Ferry pilot',
    skeleton,
    skins: [
      { name: 'figure', joints: Uint32Array.from(JOINTS.keys()), inverseBinds: createInverseBinds(skeleton) },
    ],
    sections: [
      body,
      await createHat(),
      createSash(),
      createPonchoSection(poncho, ponchoWeights),
      ...(await createHeadgear(HEADGEAR, 4)),
    ],
    clips: PILOT_CLIPS.map(bakeClip),
  };
}

async function createBody(
  dense: Surface,
  denseWeights: Float32Array,
  field: DistanceFunction,
): Promise<Section> {
  const { surface, sourceOfVertex } = await reduceSurface(dense, 18_000);
  const weights = new Float32Array(sourceOfVertex.length * JOINTS.length);
  sourceOfVertex.forEach((source, v) => {
    weights.set(
      denseWeights.subarray(source * JOINTS.length, (source + 1) * JOINTS.length),
      v * JOINTS.length,
    );
  });
  const colors = new Float32Array(surface.positions.length);
  for (let i = 0; i < colors.length; i += 3) {
    const { cover } = describePosition(
      surface.positions[i]!,
      surface.positions[i + 1]!,
      surface.positions[i + 2]!,
    );
    colors.set(COVER_COLORS[cover], i);
  }
  darkenBehindMask(surface.positions, colors);
  return createSection('Body', 0, surface, {
    normals: computeFieldNormals(surface.positions, field, 0.004),
    colors,
    ...keepFourLargest(weights),
  });
}

async function createHat(): Promise<Section> {
  const dense = polygonise(() => measureHat, [-0.22, 1.66, -0.24, 0.22, 1.87, 0.22], 0.005);
  projectOnto(dense, measureHat, 0.004);
  const { surface } = await reduceSurface(joinNear(dense), 3_000);
  return createSection('Hat', 1, surface, {
    normals: computeFieldNormals(surface.positions, measureHat, 0.003),
    colors: fill(surface, () => HAT_COLOR),
    ...bindTo(surface, 'head'),
  });
}

function createSash(): Section {
  const sheet = createSashTail();
  return createSection('Sash tail', 2, sheet, {
    uvs: layUvs('Sash tail', sheet.uvs),
    isTwoSided: true,
    colors: fill(sheet, () => SASH_COLOR),
    ...bindSash(sheet),
  });
}

function createPonchoSection(sheet: Sheet, weights: Float32Array): Section {
  return createSection('Poncho', 3, sheet, {
    uvs: layUvs('Poncho', sheet.uvs),
    isTwoSided: true,
    colors: fill(sheet, () => PONCHO_COLOR),
    ...keepFourLargest(weights),
  });
}

/** Weights of the nearest place on the body, some handed over, then spread wide over the sheet. */
function transferWeights(sheet: Sheet, body: Surface, bodyWeights: Float32Array): Float32Array {
  const index = new SpatialIndex(body.positions, body.triangles);
  const width = JOINTS.length;
  const target = handOverTargets();
  const count = sheet.positions.length / 3;
  const weights = new Float32Array(count * width);
  for (let v = 0; v < count; v++) {
    const hit = index.findClosest(
      sheet.positions[3 * v]!,
      sheet.positions[3 * v + 1]!,
      sheet.positions[3 * v + 2]!,
    )!;
    for (let corner = 0; corner < 3; corner++) {
      const source = body.triangles[3 * hit.triangle + corner]! * width;
      for (let j = 0; j < width; j++) {
        const to = v * width + target[j]!;
        weights[to] = weights[to]! + bodyWeights[source + j]! / 3;
      }
    }
  }
  spreadAround(sheet, weights, width, 46);
  keepNeckCalm(sheet, weights);
  return weights;
}

/** Around the neck hole all weight is the chest's: neither a lowered arm nor a turned head widens the collar. */
function keepNeckCalm(sheet: Sheet, weights: Float32Array): void {
  const width = JOINTS.length;
  const chest = JOINT_INDEX.get('chest')!;
  for (let v = 0; v < weights.length / width; v++) {
    const down = Math.min(1, Math.max(0, (sheet.uvs[2 * v + 1]! - 0.02) / 0.28));
    const share = down * down * (3 - 2 * down);
    for (let j = 0; j < width; j++) weights[v * width + j] = weights[v * width + j]! * share;
    weights[v * width + chest] = weights[v * width + chest]! + 1 - share;
  }
}

function handOverTargets(): number[] {
  return JOINTS.map(({ name }, index) => {
    for (const [pattern, to] of PONCHO_HANDS_OVER)
      if (pattern.test(name)) return JOINT_INDEX.get(name.replace(pattern, to))!;
    return index;
  });
}

/** From the hips at the belt to the thigh below: the sash lies on the leg when it lifts. */
function bindSash(sheet: Surface & { uvs: Float32Array }): Pick<Section, 'jointIndices' | 'jointWeights'> {
  const count = sheet.positions.length / 3;
  const jointIndices = new Uint16Array(4 * count);
  const jointWeights = new Float32Array(4 * count);
  for (let v = 0; v < count; v++) {
    const down = Math.min(1, Math.max(0, (sheet.uvs[2 * v + 1]! - 0.04) / 0.4));
    const onLeg = 0.85 * down * down * (3 - 2 * down);
    // A joint without weight is number 0, as the standard asks.
    jointIndices.set([JOINT_INDEX.get('hips')!, onLeg > 0 ? JOINT_INDEX.get('leg_l')! : 0, 0, 0], 4 * v);
    jointWeights.set([1 - onLeg, onLeg, 0, 0], 4 * v);
  }
  return { jointIndices, jointWeights };
}
