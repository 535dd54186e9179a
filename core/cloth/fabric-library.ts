import { computeBendStiffness, FABRIC_DEFAULTS } from './fabric.ts';
import type { FabricSettings } from './fabric-parameters.ts';

export interface LibraryFabric {
  name: string;
  note: string;
  /** Bending length of the cantilever test, m; the bend stiffness follows from it. */
  bendingLength: number;
  settings: FabricSettings;
}

/**
 * Cloths to begin with. Areal density and bending length are round figures from the middle of what cloth merchants
 * state and cantilever tests give for each kind; they are starting points, not measurements of one product. Stretch
 * is a small part of what a tensile test would give: past a few thousand N/m nothing more is to be seen, and soft
 * threads solve faster. Whoever has a mill's data sheet types density and bending length from it.
 */
export const LIBRARY_FABRICS: readonly LibraryFabric[] = [
  make('Oilskin', 'waxed cotton, 420 g/m², stands off the body', 0.42, 0.032, {
    ...alike(4000, 0.4),
    damping: 0.8,
    friction: 0.35,
    thickness: 0.006,
  }),
  make('Wool felt', 'fulled wool, 520 g/m², heavy and soft', 0.52, 0.024, {
    ...alike(1500, 0.5),
    damping: 1.2,
    friction: 0.5,
    thickness: 0.008,
  }),
  make('Linen lawn', 'light plain weave, 110 g/m², flutters', 0.11, 0.022, {
    ...alike(1800, 0.12),
    damping: 0.3,
    friction: 0.25,
    thickness: 0.003,
  }),
  make('Silk habotai', 'plain silk, 55 g/m², flows and floats', 0.055, 0.017, {
    ...alike(1200, 0.08),
    damping: 0.25,
    friction: 0.15,
    thickness: 0.002,
  }),
  make('Cotton poplin', 'shirt cloth, 125 g/m², crisp folds', 0.125, 0.023, {
    ...alike(2200, 0.15),
    damping: 0.4,
    friction: 0.3,
    thickness: 0.003,
  }),
  make('Wool serge', 'twill suiting, 300 g/m², drapes in long folds', 0.3, 0.021, {
    ...alike(1800, 0.1),
    damping: 0.7,
    friction: 0.4,
    thickness: 0.005,
  }),
  make('Denim', 'cotton twill, 400 g/m², stiffer down than across', 0.4, 0.034, {
    stretchWarp: 5000,
    stretchWeft: 3200,
    shearStiffness: 900,
    damping: 0.8,
    friction: 0.45,
    thickness: 0.006,
  }),
  make('Canvas', 'sailcloth, 480 g/m², keeps a crease', 0.48, 0.045, {
    ...alike(6000, 0.3),
    plasticYieldAngle: (60 * Math.PI) / 180,
    damping: 1,
    friction: 0.45,
    thickness: 0.007,
  }),
  make('Velvet', 'cotton pile, 340 g/m², heavy, clings', 0.34, 0.019, {
    ...alike(1600, 0.1),
    damping: 1,
    friction: 0.7,
    thickness: 0.008,
  }),
  make('Jersey knit', 'cotton knit, 180 g/m², gives in every direction', 0.18, 0.014, {
    stretchWarp: 300,
    stretchWeft: 180,
    shearStiffness: 90,
    compressionRange: 0.08,
    stretchCap: 1.25,
    damping: 0.6,
    friction: 0.4,
    thickness: 0.004,
  }),
  make('Garment leather', 'sheepskin, 650 g/m², few broad folds', 0.65, 0.038, {
    ...alike(5000, 0.5),
    plasticYieldAngle: (100 * Math.PI) / 180,
    damping: 1.4,
    friction: 0.55,
    thickness: 0.009,
  }),
  make('Chiffon', 'sheer crêpe yarn, 40 g/m², hangs in fine folds', 0.04, 0.015, {
    ...alike(700, 0.06),
    damping: 0.2,
    friction: 0.2,
    thickness: 0.002,
  }),
];

function make(
  name: string,
  note: string,
  density: number,
  bendingLength: number,
  settings: Partial<FabricSettings>,
): LibraryFabric {
  const bendStiffness = computeBendStiffness(density, bendingLength);
  return {
    name,
    note,
    bendingLength,
    settings: { ...FABRIC_DEFAULTS, density, bendStiffness, ...settings },
  };
}

/** As stiff along the warp as along the weft. @param shear - Shear stiffness over that. */
function alike(
  stretch: number,
  shear: number,
): Pick<FabricSettings, 'stretchWarp' | 'stretchWeft' | 'shearStiffness'> {
  return { stretchWarp: stretch, stretchWeft: stretch, shearStiffness: shear * stretch };
}
