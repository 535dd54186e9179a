/**
 * A character as everything in the core sees it: typed arrays, metres-agnostic (the units of its file),
 * independent of any file format.
 */
export interface Character {
  name: string;
  skeleton: Skeleton;
  skins: Skin[];
  sections: Section[];
  clips: Clip[];
}

/** All nodes of the file, parents before children. Joints are nodes that a skin names. */
export interface Skeleton {
  names: string[];
  /** Parent of each node, -1 for a root. [n] */
  parents: Int32Array;
  /** Local transforms of the file's rest pose: [n, 3], [n, 4] unit quaternions xyzw, [n, 3]. */
  translations: Float64Array;
  rotations: Float64Array;
  scales: Float64Array;
}

export interface Skin {
  name: string;
  /** Node of each joint. [j] */
  joints: Uint32Array;
  /** From the section's own space into each joint's space in bind pose. [j, 16] column-major. */
  inverseBinds: Float32Array;
}

export interface MorphTarget {
  name: string;
  /** Offsets, [n, 3]. */
  positions: Float32Array;
  /** Offsets, [n, 3], or null. */
  normals: Float32Array | null;
}

/** One drawable piece: what a glTF file calls a primitive. Always skinned; a rigid piece has one joint. */
export interface Section {
  name: string;
  /** Where it stands in the file. */
  meshIndex: number;
  meshName: string;
  primitiveIndex: number;
  materialName: string;
  /** Node that carries it. */
  node: number;
  /** Index into `Character.skins`. */
  skin: number;
  /** True when the file gave no skin and the section rides on its node. */
  isRigid: boolean;
  /** [n, 3] in the section's own space. */
  positions: Float32Array;
  /** [n, 3] unit length. */
  normals: Float32Array;
  /** [n, 2], or null. */
  uvs: Float32Array | null;
  /** Linear RGB, [n, 3], or null. */
  colors: Float32Array | null;
  /** Joints per vertex: 4 or 8. */
  influences: number;
  /** Indices into the skin's joints, [n, influences]. */
  jointIndices: Uint16Array;
  /** Sum to one in each row, [n, influences]. */
  jointWeights: Float32Array;
  /** Vertices that the file gave no weights: not 0. They were put on the skin's first joint. [n]; without it none. */
  unweighted?: Uint16Array | null;
  /** [t, 3] */
  triangles: Uint32Array;
  morphs: MorphTarget[];
  /** Weights of the morphs when no clip drives them, [morphs]. */
  morphWeights: Float32Array;
  /** Linear RGBA of the material. */
  baseColor: [number, number, number, number];
  isTwoSided: boolean;
  /** Places (m, any rigid placement) whose lengths are those of the cloth at rest, [n, 3]; without it the bind pose. */
  restPositions?: Float32Array | null;
  /** True for a mesh that is simulated in place of others and never drawn by itself. */
  isSimMesh?: boolean;
}

export type TrackPath = 'translation' | 'rotation' | 'scale' | 'weights';
export type Interpolation = 'STEP' | 'LINEAR' | 'CUBICSPLINE';

export interface Track {
  node: number;
  path: TrackPath;
  interpolation: Interpolation;
  /** Seconds, strictly rising. [k] */
  times: Float32Array;
  /** [k, width], or [k, 3, width] (in-tangent, value, out-tangent) for CUBICSPLINE. */
  values: Float32Array;
}

export interface Clip {
  name: string;
  /** Seconds: time of the last key, 0 for a still. */
  duration: number;
  tracks: Track[];
}

/** Vertices of a section as its file has them. */
export function getVertexCount(section: Section): number {
  return section.positions.length / 3;
}
