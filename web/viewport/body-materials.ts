import {
  type Color,
  DoubleSide,
  GreaterDepth,
  LessEqualDepth,
  LineBasicMaterial,
  LineDashedMaterial,
  MeshBasicMaterial,
} from 'three';
import { GROUND_COLORS } from './ground-colors.ts';

const CHALK = '#FBF8F0';
/** How much is left of what the character hides. */
const FILL_OPACITY = { open: 0.25, hidden: 0.1 } as const;
export const RING_OPACITY = { open: 0.75, hidden: 0.16 } as const;
export const SELECTED_OPACITY = { open: 1, hidden: 0.45 } as const;

/** Draws only what lies before everything else, or only what lies behind it. */
const DEPTHS = { open: LessEqualDepth, hidden: GreaterDepth } as const;
export type Position = keyof typeof DEPTHS;

/** What a body is filled with. */
export function createFill(place: Position): MeshBasicMaterial {
  return new MeshBasicMaterial({
    color: CHALK,
    transparent: true,
    opacity: FILL_OPACITY[place],
    depthWrite: false,
    depthFunc: DEPTHS[place],
    side: DoubleSide,
  });
}

/** What its rings and edges are drawn with. @param color - It stays the material's own: it may change. */
export function createLine(
  color: Color,
  opacity: Readonly<Record<Position, number>>,
  place: Position,
): LineBasicMaterial {
  const material = new LineBasicMaterial({
    transparent: true,
    opacity: opacity[place],
    depthWrite: false,
    depthFunc: DEPTHS[place],
  });
  material.color = color;
  return material;
}

/** Dashes of the lines of another set beside this one, m. */
const DASH = { dashSize: 0.02, gapSize: 0.014 } as const;

/** What those of another set beside it are. */
export function createDashed(place: Position): LineDashedMaterial {
  const material = new LineDashedMaterial(DASH);
  material.color = GROUND_COLORS.plum;
  material.transparent = true;
  material.opacity = RING_OPACITY[place];
  material.depthWrite = false;
  material.depthFunc = DEPTHS[place];
  return material;
}
