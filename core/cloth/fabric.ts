/**
 * The physical settings of a cloth. All in SI units; the interface shows centimetres and grams.
 */
export interface FabricSettings {
  /** Areal density, kg/m². Default 0.35, typical 0.05 to 1.5. */
  density: number;
  /** Resistance to stretching within the cloth's plane, N/m. Default 2000, typical 50 to 20 000. */
  stretchStiffness: number;
  /** Bending rigidity per width, N·m. Default 3e-5, typical 1e-6 to 1e-2. */
  bendStiffness: number;
  /** Rate at which all motion dies away, 1/s. Default 0.5, typical 0 to 10. */
  damping: number;
  /** Coulomb friction against bodies. Default 0.3, typical 0 to 1. */
  friction: number;
  /** Distance kept from bodies, m. Default 0.004, typical 0 to 0.03. */
  thickness: number;
  /** Factor on gravity. Default 1, typical 0 to 2. */
  gravityScale: number;
  /** How much of the pressure of moving air a face feels (drag coefficient). Default 1, typical 0 to 2. */
  airDrag: number;
  /** Steps per simulated frame. Default 6, typical 1 to 16. */
  substeps: number;
}

export const FABRIC_DEFAULTS: Readonly<FabricSettings> = {
  density: 0.35,
  stretchStiffness: 2000,
  bendStiffness: 3e-5,
  damping: 0.5,
  friction: 0.3,
  thickness: 0.004,
  gravityScale: 1,
  airDrag: 1,
  substeps: 6,
};

/** Bounds that every writer of a fabric keeps; the solver is stable within them. */
export const FABRIC_RANGES: Readonly<Record<keyof FabricSettings, readonly [min: number, max: number]>> = {
  density: [0.02, 5],
  stretchStiffness: [10, 50_000],
  bendStiffness: [0, 0.1],
  damping: [0, 20],
  friction: [0, 1.5],
  thickness: [0, 0.05],
  gravityScale: [-1, 3],
  airDrag: [0, 3],
  substeps: [1, 24],
};

/** Standard gravity, m/s². */
export const STANDARD_GRAVITY = 9.80665;

/**
 * Bending rigidity per width from the cantilever test: B = w g c³.
 *
 * @param density - Areal density w, kg/m².
 * @param bendingLength - Bending length c, m.
 * @returns B in N·m.
 *
 * Reference: F. T. Peirce, *The "handle" of cloth as a measurable quantity*, J. Textile Institute 21, 1930.
 */
export function computeBendStiffness(density: number, bendingLength: number): number {
  return density * STANDARD_GRAVITY * bendingLength ** 3;
}

/** Three cloths to begin with: typical densities and bending lengths of their kinds. */
export const STARTER_FABRICS: readonly { name: string; note: string; settings: FabricSettings }[] = [
  {
    name: 'Oilskin',
    note: 'waxed cotton, 420 g/m², stands off the body',
    settings: {
      ...FABRIC_DEFAULTS,
      density: 0.42,
      stretchStiffness: 4000,
      bendStiffness: computeBendStiffness(0.42, 0.032),
      damping: 0.8,
      friction: 0.35,
      thickness: 0.006,
    },
  },
  {
    name: 'Wool felt',
    note: 'fulled wool, 520 g/m², heavy and soft',
    settings: {
      ...FABRIC_DEFAULTS,
      density: 0.52,
      stretchStiffness: 1500,
      bendStiffness: computeBendStiffness(0.52, 0.024),
      damping: 1.2,
      friction: 0.5,
      thickness: 0.008,
    },
  },
  {
    name: 'Linen lawn',
    note: 'light plain weave, 110 g/m², flutters',
    settings: {
      ...FABRIC_DEFAULTS,
      density: 0.11,
      stretchStiffness: 1800,
      bendStiffness: computeBendStiffness(0.11, 0.022),
      damping: 0.3,
      friction: 0.25,
      thickness: 0.003,
    },
  },
];
