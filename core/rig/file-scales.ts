import { percentile } from '../math/index.ts';
import type { Character, Clip, Section, Skeleton, Skin } from './character.ts';

/**
 * How many metres one unit of a file is: files may count in centimetres below a scaled root. Inside the application
 * everything is in metres in every space, so that a length means the same wherever it is shown, painted or tested.
 */
export interface FileScales {
  /** Of the space of each node, [n]. */
  nodes: Float64Array;
  /** Of the sections that follow each skin, [skins]. */
  skins: Float64Array;
}

/** A scale as close to one as this is rounding. */
const ROUNDING = 1e-6;

/**
 * A character whose spaces all count in metres: scales of the rest pose are worked into translations, bind matrices,
 * positions, morphs and clips; nothing moves. What is left in `skeleton.scales` is what a node is stretched by beyond its mean
 * (and mirroring); scales that a clip changes stay changes.
 *
 * With s the scale of a node's space (product of the mean scales above it, its own included) and u that of a skin's
 * sections: T' = s(parent) T, S' = S / mean S, B' = s B / u, p' = u p. Then W' = W / s, and W' B' p' = W B p. Ours.
 *
 * @returns The same character, and no scales, when all are one already. O(size of the character).
 */
export function bakeScales(character: Character): { character: Character; scales: FileScales | null } {
  const scales = measureScales(character);
  const isPlain = [...scales.nodes, ...scales.skins].every((scale) => scale === 1);
  return isPlain ? { character, scales: null } : { character: convert(character, scales), scales };
}

/** The character as it was before `bakeScales`, to the rounding of its arrays. */
export function restoreScales(character: Character, scales: FileScales | null): Character {
  return scales ? convert(character, invertScales(scales)) : character;
}

/** One section as it was before `bakeScales`, or as its file would have it. */
export function restoreSection(section: Section, scales: FileScales | null): Section {
  return scales ? scaleSection(section, 1 / scales.skins[section.skin]!) : section;
}

/** Scales that take back what others do. */
export function invertScales({ nodes, skins }: FileScales): FileScales {
  return { nodes: nodes.map((scale) => 1 / scale), skins: skins.map((scale) => 1 / scale) };
}

function measureScales({ skeleton, skins }: Character): FileScales {
  const nodes = new Float64Array(skeleton.names.length);
  skeleton.parents.forEach((parent, node) => {
    nodes[node] = round((parent < 0 ? 1 : nodes[parent]!) * measureMean(skeleton.scales, node));
  });
  return { nodes, skins: Float64Array.from(skins, (skin) => measureSkin(skin, nodes)) };
}

/** Geometric mean of a node's own scale; 1 for one that is flat. */
function measureMean(scales: Float64Array, node: number): number {
  const [x, y, z] = scales.subarray(3 * node, 3 * node + 3);
  const mean = Math.cbrt(Math.abs(x! * y! * z!));
  return mean > 0 && Number.isFinite(mean) ? mean : 1;
}

/** From a section's space into the world in bind pose: the middle of what its joints say. */
function measureSkin({ joints, inverseBinds }: Skin, nodes: Float64Array): number {
  const said = Array.from(joints, (node, j) => nodes[node]! * measureMatrix(inverseBinds, 16 * j));
  return round(
    percentile(
      said.filter((scale) => scale > 0),
      0.5,
    ) || 1,
  );
}

function measureMatrix(m: Float32Array, o: number): number {
  const [a, b, c] = [0, 4, 8].map((column) => m.subarray(o + column, o + column + 3)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const determinant =
    a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
    b[0]! * (a[1]! * c[2]! - a[2]! * c[1]!) +
    c[0]! * (a[1]! * b[2]! - a[2]! * b[1]!);
  return Math.cbrt(Math.abs(determinant));
}

function round(scale: number): number {
  return Math.abs(scale - 1) < ROUNDING ? 1 : scale;
}

function convert(character: Character, scales: FileScales): Character {
  const { skeleton, skins, sections, clips } = character;
  return {
    ...character,
    skeleton: scaleSkeleton(skeleton, scales),
    skins: skins.map((skin, index) => scaleSkin(skin, scales, scales.skins[index]!)),
    sections: sections.map((section) => scaleSection(section, scales.skins[section.skin]!)),
    clips: clips.map((clip) => scaleClip(clip, skeleton, scales)),
  };
}

function getParentScale({ parents }: Skeleton, { nodes }: FileScales, node: number): number {
  const parent = parents[node]!;
  return parent < 0 ? 1 : nodes[parent]!;
}

function scaleSkeleton(skeleton: Skeleton, scales: FileScales): Skeleton {
  const parentOf = (i: number): number => getParentScale(skeleton, scales, Math.floor(i / 3));
  return {
    ...skeleton,
    translations: skeleton.translations.map((value, i) => value * parentOf(i)),
    scales: skeleton.scales.map((value, i) => (value * parentOf(i)) / scales.nodes[Math.floor(i / 3)]!),
  };
}

function scaleSkin(skin: Skin, { nodes }: FileScales, own: number): Skin {
  const inverseBinds = skin.inverseBinds.map((value, i) => {
    const [row, column] = [i % 4, Math.floor((i % 16) / 4)];
    if (row === 3) return value;
    const joint = nodes[skin.joints[Math.floor(i / 16)]!]!;
    return column === 3 ? value * joint : (value * joint) / own;
  });
  return { ...skin, inverseBinds };
}

/** Places and morph targets of a section times a scale; where it lies at rest stays. */
export function scaleSection(section: Section, scale: number): Section {
  if (scale === 1) return section;
  const times = (values: Float32Array): Float32Array => values.map((value) => value * scale);
  return {
    ...section,
    positions: times(section.positions),
    morphs: section.morphs.map((morph) => ({ ...morph, positions: times(morph.positions) })),
  };
}

function scaleClip(clip: Clip, skeleton: Skeleton, scales: FileScales): Clip {
  const tracks = clip.tracks.map((track) => {
    const parent = getParentScale(skeleton, scales, track.node);
    const factors: Partial<Record<typeof track.path, number>> = {
      translation: parent,
      scale: parent / scales.nodes[track.node]!,
    };
    const factor = factors[track.path] ?? 1;
    return factor === 1 ? track : { ...track, values: track.values.map((value) => value * factor) };
  });
  return { ...clip, tracks };
}
