import type { FabricSettings, WindSettings } from '../../core/cloth/index.ts';

/** Name of our documented extension; schema in docs/formats. */
export const CLOTH_EXTENSION = 'COBWEB_cloth';
/** Vertex attribute with the max distance in metres, one float a vertex. */
export const MAX_DISTANCE_ATTRIBUTE = '_MAX_DISTANCE';
/** Vertex attribute with the place that the lengths of the cloth at rest are measured in, metres. */
export const REST_ATTRIBUTE = '_REST_POSITION';
export const CLOTH_SPEC_VERSION = '1.2';
/** Versions that are read: what an earlier one lacks takes its default. */
export const READ_SPEC_VERSIONS: readonly string[] = ['1.0', '1.1', '1.2'];

/** The extension object at the root of a shipped file. All numbers in SI units. */
export interface ClothExtension {
  specVersion: string;
  garments: {
    name: string;
    /** From the skin outward, from 0. */
    order: number;
    /** Node that carries the mesh, and which of its primitives is the garment. */
    node: number;
    primitive: number;
    /** Name of the vertex attribute with the max distance. */
    maxDistance: string;
    /** Indices into the lists below. */
    fabric: number;
    bodySet: number;
    /** Turn of the warp against V of the UVs, rad; and how much of the simulation is shown, 0 to 1. */
    warpTurn: number;
    blend: number;
    /** Primitives that are drawn in place of the garment's own, and follow it; empty when it is drawn itself. */
    renders: { node: number; primitive: number }[];
    /** `inside`: the inner side of a garment with two rides on the outer. */
    lining: 'none' | 'inside';
  }[];
  fabrics: ({ name: string } & FabricSettings)[];
  bodySets: { name: string; bodies: ShippedBody[] }[];
  scene: WindSettings;
}

/**
 * A body set lists the nodes that carry its colliders. Ends and radii are those of the shape of that node, in the
 * space of the joint above it, to the last digit.
 */
export interface ShippedBody {
  node: number;
  kind: 'sphere' | 'capsule' | 'taperedCapsule';
  a: [number, number, number];
  b: [number, number, number];
  radiusA: number;
  radiusB: number;
}
