import { FABRIC_PARAMETERS, type FabricKey, type FabricSettings } from './fabric-parameters.ts';

export const FABRIC_KEYS = Object.keys(FABRIC_PARAMETERS) as FabricKey[];

export const FABRIC_DEFAULTS: Readonly<FabricSettings> = mapKeys((key) => FABRIC_PARAMETERS[key].default);

/** Bounds that every writer of a fabric keeps; the solver is stable within them. */
export const FABRIC_RANGES: Readonly<Record<FabricKey, readonly [min: number, max: number]>> = mapKeys(
  (key) => FABRIC_PARAMETERS[key].range,
);

function mapKeys<T>(make: (key: FabricKey) => T): Record<FabricKey, T> {
  return Object.fromEntries(FABRIC_KEYS.map((key) => [key, make(key)])) as Record<FabricKey, T>;
}

/** Substeps were counted by frames of a sixtieth of a second. */
export const FRAMES_OF_EARLIER_SUBSTEPS = 60;

/** Settings that earlier formats had: one stiffness for all directions, and numbers under other names. */
interface EarlierSettings {
  stretchStiffness?: unknown;
  linearInertia?: unknown;
  angularInertia?: unknown;
  foldYield?: unknown;
  substeps?: unknown;
}

/**
 * Whole settings from what a file or a record holds: missing and non-finite numbers take their defaults, numbers
 * beyond the ranges are brought within them, counts are rounded. One stiffness for all directions, as earlier
 * versions had it, becomes warp, weft and the shear that makes the cloth alike in all directions; the shares of the
 * root's moves and turns, and the angle of yielding folds, are taken from their earlier names; substeps of a frame, which
 * was a sixtieth of a second, become those of a second.
 */
export function completeFabric(raw: Partial<FabricSettings> & EarlierSettings): FabricSettings {
  const given: Partial<Record<FabricKey, unknown>> = { ...raw };
  const alike = raw.stretchStiffness;
  if (typeof alike === 'number') {
    given.stretchWarp ??= alike;
    given.stretchWeft ??= alike;
    given.shearStiffness ??= alike / 2;
  }
  given.rootMotionShare ??= raw.linearInertia;
  given.rootTurnShare ??= raw.angularInertia;
  given.plasticYieldAngle ??= raw.foldYield;
  if (typeof raw.substeps === 'number') given.substepsPerSecond ??= FRAMES_OF_EARLIER_SUBSTEPS * raw.substeps;
  return mapKeys((key) => {
    const value = given[key];
    const parameter = FABRIC_PARAMETERS[key];
    const number = typeof value === 'number' && Number.isFinite(value) ? value : parameter.default;
    const [least, most] = parameter.range;
    const bounded = Math.min(most, Math.max(least, number));
    return parameter.isCount ? Math.round(bounded) : bounded;
  });
}

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

/** The inverse of `computeBendStiffness`: c = (B / w g)^⅓, m. */
export function computeBendingLength(density: number, bendStiffness: number): number {
  return Math.cbrt(bendStiffness / (density * STANDARD_GRAVITY));
}

/**
 * By how much a piece hung by one end gets longer under its own weight, of its length for each metre of it: w g / 2 k.
 *
 * @param density - Areal density w, kg/m². @param stiffness - Along the piece, k, N/m.
 */
export function computeElongation(density: number, stiffness: number): number {
  return (density * STANDARD_GRAVITY) / (2 * stiffness);
}
