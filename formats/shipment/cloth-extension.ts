import type { BodyShape } from '../../core/bodies/index.ts';
import type { FabricSettings, WindSettings } from '../../core/cloth/index.ts';
import type { BodyFollows, GarmentLevel, Limits } from '../../core/document/index.ts';
import type { ChannelKind } from '../../core/reach/index.ts';

/** Name of our documented extension; schema in docs/formats. */
export const CLOTH_EXTENSION = 'COBWEB_cloth';
/** Vertex attribute with the place that the lengths of the cloth at rest are measured in, metres. */
export const REST_ATTRIBUTE = '_REST_POSITION';
export const CLOTH_SPEC_VERSION = '1.12';
/**
 * Versions that are read, each with the form of documents whose records it holds: these are raised from there by the same
 * steps as stored documents. A new form of documents comes with a new version here.
 */
export const DOCUMENT_VERSION_OF_SPEC: Readonly<Record<string, number>> = {
  '1.0': 0,
  '1.1': 0,
  '1.2': 0,
  '1.3': 0,
  '1.4': 0,
  '1.5': 3,
  '1.6': 4,
  '1.7': 4,
  '1.8': 4,
  '1.9': 4,
  '1.10': 4,
  '1.11': 5,
  '1.12': 5,
};

/** The extension object at the root of a shipped file. All numbers in SI units. */
export interface ClothExtension {
  specVersion: string;
  /** Which state of the character in the application this was made of; it rises with every change. */
  revision?: number;
  garments: {
    name: string;
    /** From the skin outward, from 0. */
    order: number;
    /** Node that carries the mesh, and which of its primitives is the garment. */
    node: number;
    primitive: number;
    /** Name of the vertex attribute with the max distance. */
    maxDistance: string;
    /** Names of the vertex attributes with its other maps; a channel without a map is left out. */
    maps: Partial<Record<Exclude<ChannelKind, 'maxDistance'>, string>>;
    /** Indices into the lists below. */
    fabric: number;
    bodySet: number;
    /** Groups of bodies of its set that it meets, from 1. */
    bodyGroups: number[];
    /** Garments of lower order that it is not kept off, as it never comes near them, by their place in this list. */
    clearOf: number[];
    /** Turn of the warp against V of the UVs, rad; and how much of the simulation is shown, 0 to 1. */
    warpTurn: number;
    blend: number;
    /** Primitives that are drawn in place of the garment's own, and follow it; empty when it is drawn itself. */
    renders: { node: number; primitive: number }[];
    /** `inside`: the inner side of a garment with two rides on the outer. */
    lining: 'none' | 'inside';
    /** How it is simulated while the character is small on the screen, from near to far. */
    levels: ShippedLevel[];
    /** What a trial of it must stay within, where it is not what trials begin with; null: no limit. Lengths in m, areas in m², shares, ms. */
    limits: Limits;
  }[];
  fabrics: ({ name: string } & FabricSettings)[];
  /** With what the bodies do when the character takes another body shape. */
  bodySets: { name: string; follows: BodyFollows; bodies: ShippedBody[]; meshes: ShippedMesh[] }[];
  /** `levelSwitchSeconds`: garments go over from one level to another in this time. */
  scene: WindSettings & { levelSwitchSeconds: number };
  /** What its levels were measured to cost; left out when they were not. */
  crowd?: ShippedCrowd;
}

/** A level of detail of a garment. */
export interface ShippedLevel extends Omit<GarmentLevel, 'withoutBodies'> {
  /** Bodies that the garment does not meet then, by their place in its set. */
  withoutBodies: number[];
  /** The skinned primitive that it is simulated on, with the names of its maps (max distance apart, as of the garment); null: the garment's own. */
  mesh: {
    node: number;
    primitive: number;
    maps: Partial<Record<Exclude<ChannelKind, 'maxDistance'>, string>>;
  } | null;
}

/** What a character costs at each size on the screen, and how many of it fit a target. */
export interface ShippedCrowd {
  target: string;
  /** ms of a frame, on each core. */
  budgetMilliseconds: number;
  cores: number;
  /** rad, from the upper to the lower edge; px; and how high the character stands, m. */
  fieldOfView: number;
  screenHeight: number;
  height: number;
  /** From near to far. */
  bands: {
    fromPixels: number;
    /** Null: no end. */
    toMetres: number | null;
    costMilliseconds: number;
    /** While it comes from the band before, both simulated; null of the nearest. */
    switchMilliseconds: number | null;
    /** Null: any number. */
    fits: number | null;
  }[];
}

/**
 * A body set lists the nodes that carry its colliders. Its numbers are those of the shape of that node without its margin, in the
 * space of the joint above it, to the last digit.
 */
export type ShippedBody = BodyShape & {
  node: number;
  name: string;
  /** Added all around, in the units of its joint. */
  margin: number;
  /** Collision group, from 1. */
  group: number;
};

/** A skinned primitive that cloth is kept out of; it should not be drawn. */
export interface ShippedMesh {
  name: string;
  /** Node that carries the mesh, and which of its primitives it is. */
  node: number;
  primitive: number;
  /** How much farther off it than the thickness of a fabric cloth is kept, m. */
  margin: number;
  /** Collision group, from 1. */
  group: number;
}
