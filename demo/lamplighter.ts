import { buildNeighbours, type CheckedMesh } from '../core/mesh/index.ts';
import {
  type Character,
  handOverWeights,
  type Section,
  smoothWeights,
  toDenseWeights,
  toSparseWeights,
} from '../core/rig/index.ts';
import { createSectionMesh, transferMorphs, transferWeights } from '../core/steps/index.ts';
import { createHeadgear, darkenBehindMask, type Headgear } from './create-headgear.ts';
import { bindTo, createSection, fill, type Rgb } from './create-section.ts';
import { createFastBodyField, describePosition } from './figure/body-field.ts';
import { createBodyShapes } from './figure/body-shapes.ts';
import type { Cover } from './figure/figure-parts.ts';
import { JOINT_INDEX, JOINTS } from './figure/joints.ts';
import { LAMPLIGHTER_CUT } from './figure/mask-field.ts';
import { createApron, createScarf, createSmock, createToolRoll } from './garments/lamplighter-sheets.ts';
import type { Sheet } from './garments/sheet.ts';
import { layUvs } from './garments/sheet-layouts.ts';

const COVER_COLORS: Record<Cover, Rgb> = {
  skin: [0.36, 0.235, 0.165],
  shirt: [0.42, 0.375, 0.29],
  trousers: [0.12, 0.135, 0.165],
  boots: [0.075, 0.066, 0.058],
  belt: [0.13, 0.085, 0.05],
};
const COLORS = {
  hat: [0.075, 0.085, 0.1],
  smock: [0.42, 0.375, 0.29],
  apron: [0.2, 0.105, 0.055],
  scarf: [0.46, 0.2, 0.06],
  roll: [0.17, 0.12, 0.075],
} satisfies Record<string, Rgb>;

const MESHES = [
  'Body',
  'Hat',
  'Under-smock',
  'Work apron',
  'Neck scarf',
  'Tool roll',
  'Mask',
  'Hood',
] as const;

/** Dark wood with a stripe of ochre down the ridge and along the chin. */
const HEADGEAR: Headgear = {
  cut: LAMPLIGHTER_CUT,
  wood: [0.29, 0.165, 0.09],
  paint: [0.56, 0.34, 0.08],
  paintDepth: (x, y) => Math.max(Math.min(0.007 - x, y - 1.6), 0.008 - Math.abs(y - 1.532 + 0.3 * x)),
  hood: [0.1, 0.115, 0.14],
};
/** Share of the thighs' motion that a garment is skinned with: with more, a crouch folds it into the lap. Bodies do the rest. */
const LEGS_FOLLOWED: Readonly<Record<string, number>> = { 'Under-smock': 0.18, 'Work apron': 0.42 };
const CLIPS = new Set(['standing breath', 'walk', 'crouch and pull']);

/**
 * The Lamplighter: the pilot's figure with three body shapes and other clothes: an under-smock with a split work apron
 * over it, a neck scarf and a tool roll. Smock and apron follow the body's shapes; scarf and roll do not yet.
 *
 * @param pilot - As `createFerryPilot` makes it, or read back from its file.
 */
export async function createLamplighter(pilot: Character): Promise<Character> {
  const field = createFastBodyField();
  const smock = createSmock(field);
  const { skeleton, nodes } = addNodes(pilot);
  const shape = (section: Section, index: number): Section => {
    const placed = { ...section, node: nodes[index]!, meshIndex: index };
    return { ...placed, morphs: createBodyShapes(placed), morphWeights: new Float32Array(3) };
  };
  const [body, hat] = ['Body', 'Hat'].map((name, index) =>
    shape(pilot.sections.find((section) => section.name === name)!, index),
  ) as [Section, Section];
  const dress = (index: number, sheet: Sheet, color: Rgb): Section => ({
    ...dressIn(index, sheet, color),
    node: nodes[index]!,
  });
  const bare: Character = {
    ...pilot,
    name: 'Lamplighter',
    skeleton,
    sections: [
      { ...body, colors: colorBody(body) },
      { ...hat, colors: fill(hat, () => COLORS.hat) },
      dress(2, smock, COLORS.smock),
      dress(3, createApron(field, smock), COLORS.apron),
      dress(4, createScarf(field, smock), COLORS.scarf),
      dress(5, createToolRoll(), COLORS.roll),
      ...(await createHeadgear(HEADGEAR, 6)).map((section, i) => shape(section, 6 + i)),
    ],
    clips: pilot.clips.filter(({ name }) => CLIPS.has(name)),
  };
  return [2, 3, 4].reduce((character, index) => weigh(character, index), bare);
}

/** The pilot's nodes, which its clips move, with one for each mesh of the Lamplighter at the end. */
function addNodes({ skeleton, sections }: Character): Pick<Character, 'skeleton'> & { nodes: number[] } {
  const kept = skeleton.names.length;
  const isOfMesh = new Set(sections.map(({ node }) => node));
  const names = skeleton.names.map((name, node) => (isOfMesh.has(node) ? `pilot ${name}` : name));
  const add = (values: Float64Array, row: readonly number[]): Float64Array =>
    Float64Array.from([...values, ...MESHES.flatMap(() => row)]);
  return {
    nodes: MESHES.map((_, index) => kept + index),
    skeleton: {
      names: [...names, ...MESHES],
      parents: Int32Array.from([...skeleton.parents, ...MESHES.map(() => -1)]),
      translations: add(skeleton.translations, [0, 0, 0]),
      rotations: add(skeleton.rotations, [0, 0, 0, 1]),
      scales: add(skeleton.scales, [1, 1, 1]),
    },
  };
}

function dressIn(index: number, sheet: Sheet, color: Rgb): Section {
  return createSection(MESHES[index]!, index, sheet, {
    uvs: layUvs(MESHES[index]!, sheet.uvs),
    isTwoSided: true,
    colors: fill(sheet, () => color),
    ...bindTo(sheet, 'hips'),
  });
}

/** Weights and, for what lies close to the trunk, shapes of the body. Below the knee nothing is followed: skirts hang. */
function weigh(character: Character, index: number): Character {
  const body = [0];
  const { section } = transferWeights(character, index, body);
  const dense = toDenseWeights(section, JOINTS.length);
  const trunk = JOINTS.flatMap(({ name }, j) =>
    /^(hips|waist|ribs|chest|neck|leg_[lr])$/.test(name) ? [j] : [],
  );
  const isScarf = section.name === 'Neck scarf';
  handOverWeights(dense, JOINTS.length, new Set(trunk), JOINT_INDEX.get(isScarf ? 'chest' : 'hips')!);
  const mesh = createSectionMesh(character, index);
  spreadWeights(dense, section, mesh);
  if (LEGS_FOLLOWED[section.name]) followLegsLess(dense, LEGS_FOLLOWED[section.name]!);
  const weighed = { ...section, ...toSparseWeights(dense, JOINTS.length, 4) };
  const sections = character.sections.slice();
  sections[index] = weighed;
  if (!isScarf) sections[index] = transferMorphs({ ...character, sections }, index, body);
  return { ...character, sections };
}

/** Hands weight of the legs over to the hips. @param share - That stays. */
function followLegsLess(dense: Float32Array, share: number): void {
  const hips = JOINT_INDEX.get('hips')!;
  const legs = ['leg_l', 'leg_r'].map((name) => JOINT_INDEX.get(name)!);
  for (let row = 0; row < dense.length; row += JOINTS.length) {
    for (const leg of legs) {
      dense[row + hips] = dense[row + hips]! + (1 - share) * dense[row + leg]!;
      dense[row + leg] = share * dense[row + leg]!;
    }
  }
}

/** Wide blends between the legs: a skirt is one cloth around both. */
function spreadWeights(
  dense: Float32Array,
  { positions }: Section,
  { table, pointCount, pointOfVertex, vertexOfPoint }: CheckedMesh,
): void {
  const width = JOINTS.length;
  const ofPoints = new Float32Array(pointCount * width);
  vertexOfPoint.forEach((v, p) => {
    ofPoints.set(dense.subarray(width * v, width * (v + 1)), width * p);
  });
  const strength = new Float32Array(pointCount).fill(0.5);
  smoothWeights(ofPoints, width, buildNeighbours(table, pointCount), strength, 14);
  for (let v = 0; v < positions.length / 3; v++) {
    const p = pointOfVertex[v]!;
    dense.set(ofPoints.subarray(width * p, width * (p + 1)), width * v);
  }
}

function colorBody({ positions }: Section): Float32Array {
  const colors = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i += 3)
    colors.set(COVER_COLORS[describePosition(positions[i]!, positions[i + 1]!, positions[i + 2]!).cover], i);
  darkenBehindMask(positions, colors);
  return colors;
}
