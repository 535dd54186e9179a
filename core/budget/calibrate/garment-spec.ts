import { FABRIC_DEFAULTS, type FabricSettings } from '../../cloth/index.ts';
import { createRandom } from '../../math/index.ts';

/** A generated garment that work is timed on. */
export interface GarmentSpec {
  name: string;
  /** Vertices around and down. */
  columns: number;
  rows: number;
  /** m */
  height: number;
  /** Joints besides the legs', as hands and faces have them; every other one is moved by the clip. */
  otherJoints: number;
  /** Open in front. */
  isOpen: boolean;
  /** How far vertices are from a regular grid, as a share of its spacing. */
  unevenness: number;
  /** Garments, one over the other. */
  layers: number;
  /** Capsules, and boxes, around the legs. */
  capsules: number;
  boxes: number;
  /** Whether it meets the skin of the legs, as a body mesh. */
  meetsSkin: boolean;
  hasInwardLimit: boolean;
  /** Whether a mesh of four times as many triangles is drawn in place of the one that is simulated. */
  isDrawnFine: boolean;
  /** m/s; and whether it differs from place to place. */
  wind: number;
  isGusty: boolean;
  fabric: FabricSettings;
}

/** So many garments unit costs are fitted to, and so many the fit is tried on. */
export const FITTED = 36;
export const TRIED = 12;

/**
 * A spread of garments: sizes, meshes, fabrics, bodies and what they meet, each drawn on its own, so that no two kinds of work always
 * come together. The same on every machine.
 */
export function listGarmentSpecs(count = FITTED + TRIED, seed = 17): GarmentSpec[] {
  const random = createRandom(seed);
  const between = (low: number, high: number): number => low + (high - low) * random();
  const whole = (low: number, high: number): number => Math.floor(between(low, high + 1));
  const often = (share: number): boolean => random() < share;
  return Array.from({ length: count }, (_, k) => {
    // Evenly over sizes of 120 to 1,440 vertices, by their logarithm.
    const vertices = 120 * 12 ** (((k * 7) % count) / Math.max(1, count - 1));
    // Self-collision: none, by vertices, by triangles; each in turn, since few have it.
    const self = (['none', 'vertices', 'none', 'triangles', 'none'] as const)[k % 5]!;
    const evenly = 4 * Math.round(Math.sqrt(vertices * between(1, 2)) / 4);
    // By vertices only where they are closer than the largest distance that a fabric may have.
    const columns = self === 'vertices' ? Math.max(64, evenly) : evenly;
    const spacing = SPREAD / columns;
    const rows = Math.max(6, Math.round(vertices / columns));
    const spec: GarmentSpec = {
      name: `garment ${String(k + 1).padStart(2, '0')}`,
      columns,
      rows,
      height: self === 'vertices' ? Math.min(HEIGHT, spacing * (rows - 1)) : HEIGHT,
      otherJoints: whole(0, 120),
      isOpen: often(0.4),
      unevenness: often(0.5) ? between(0.1, 0.3) : 0,
      layers: often(0.3) ? 2 : 1,
      capsules: often(0.8) ? whole(2, 20) : 0,
      boxes: often(0.3) ? whole(1, 4) : 0,
      meetsSkin: often(0.2),
      hasInwardLimit: often(0.4),
      isDrawnFine: often(0.4),
      wind: often(0.5) ? between(1, 6) : 0,
      isGusty: often(0.5),
      fabric: {
        ...FABRIC_DEFAULTS,
        density: between(0.1, 0.6),
        bendStiffness: often(0.85) ? 10 ** between(-6, -3.3) : 0,
        foldMemory: often(0.7) ? 1 : 0,
        plasticYieldAngle: often(0.15) ? 0.6 : Math.PI,
        compressionRange: often(0.3) ? between(0.05, 0.3) : 0,
        edgeDamping: often(0.3) ? between(0.5, 5) : 0,
        airDrag: often(0.8) ? 1 : 0,
        airLift: often(0.8) ? 1 : 0,
        selfDistance:
          self === 'none' ? 0 : self === 'vertices' ? Math.min(0.05, 1.45 * spacing) : 0.3 * spacing,
        // What takes longest is timed shortly.
        substepsPerSecond: 60 * (self === 'triangles' ? whole(2, 4) : whole(2, 12)),
        iterations: often(0.75) ? 1 : whole(2, 4),
      },
    };
    return spec;
  });
}

const HEIGHT = 0.7;
/** About the way around a garment, m: spacing follows from its columns. */
const SPREAD = 2.2;
