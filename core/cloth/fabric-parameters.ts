export const FABRIC_GROUPS = ['Cloth', 'Folds', 'Motion', 'Contact', 'Air', 'Solver'] as const;
export type FabricGroup = (typeof FABRIC_GROUPS)[number];

/** What a setting of a fabric is, for whoever shows, checks or documents it. */
export interface FabricParameter {
  /** Parameters that are shown together. */
  group: FabricGroup;
  label: string;
  /** Unit as shown; empty for a plain number. */
  unit: string;
  /** Shown value over stored (SI) value. */
  factor: number;
  /** Stored values. */
  default: number;
  range: readonly [min: number, max: number];
  /** Step of the shown value, and its decimals. */
  step: number;
  digits: number;
  /** Spread over several powers of ten: a slider is logarithmic. */
  isLogarithmic?: boolean;
  /** A whole number. */
  isCount?: boolean;
  /** What it does, in one line. */
  effect: string;
}

/**
 * All settings of a fabric, in the order in which they are shown. One that comes later has a default with which cloth moves as
 * it did before: records and files that do not have it yet take that.
 */
const parameters = {
  /** Areal density, kg/m². */
  density: {
    group: 'Cloth',
    label: 'Density',
    unit: 'g/m²',
    factor: 1000,
    default: 0.35,
    range: [0.02, 5],
    step: 5,
    digits: 0,
    isLogarithmic: true,
    effect: 'Weight of a square metre: heavier cloth swings slower and air moves it less',
  },
  /** Resistance to stretching along the warp, N/m. */
  stretchWarp: {
    group: 'Cloth',
    label: 'Warp',
    unit: 'N/m',
    factor: 1,
    default: 2000,
    range: [10, 50_000],
    step: 50,
    digits: 0,
    isLogarithmic: true,
    effect: 'Resistance to getting longer along the warp, the threads that run with V of the UVs',
  },
  /** Resistance to stretching along the weft, N/m. */
  stretchWeft: {
    group: 'Cloth',
    label: 'Weft',
    unit: 'N/m',
    factor: 1,
    default: 2000,
    range: [10, 50_000],
    step: 50,
    digits: 0,
    isLogarithmic: true,
    effect: 'Resistance to getting longer across the warp',
  },
  /** Resistance to shearing between warp and weft, N/m. */
  shearStiffness: {
    group: 'Cloth',
    label: 'Shear',
    unit: 'N/m',
    factor: 1,
    default: 1000,
    range: [1, 50_000],
    step: 20,
    digits: 0,
    isLogarithmic: true,
    effect: 'Resistance to the square of threads becoming a diamond: small drapes over a round form',
  },
  /** Share of its length by which a thread gets shorter before it resists. */
  compressionRange: {
    group: 'Cloth',
    label: 'Free compression',
    unit: '%',
    factor: 100,
    default: 0,
    range: [0, 1],
    step: 1,
    digits: 0,
    effect: 'How much shorter a thread gets before it pushes back: knits give way, canvas does not',
  },
  /** Longest that a tether to a held point may become, over its rest length. */
  stretchCap: {
    group: 'Cloth',
    label: 'Stretch cap',
    unit: '%',
    factor: 100,
    default: 1.05,
    range: [1, 2],
    step: 1,
    digits: 0,
    effect: 'Longest distance to the nearest held vertex, against its length along the cloth',
  },
  /** Bending rigidity per width, N·m. */
  bendStiffness: {
    group: 'Folds',
    label: 'Bend',
    unit: 'µN·m',
    factor: 1e6,
    default: 3e-5,
    range: [0, 0.1],
    step: 1,
    digits: 0,
    isLogarithmic: true,
    effect: 'Resistance to folding: small hangs soft, large stands off',
  },
  /** How much of the modelled folds the cloth wants back: 0 flat, 1 as modelled. */
  foldMemory: {
    group: 'Folds',
    label: 'Fold memory',
    unit: '%',
    factor: 100,
    default: 1,
    range: [0, 1],
    step: 5,
    digits: 0,
    effect: 'How much of the modelled folds it wants back: 0 wants to lie flat',
  },
  /** Unfolding by more than this angle (rad) is kept: the fold has yielded. π: never. */
  plasticYieldAngle: {
    group: 'Folds',
    label: 'Fold yield',
    unit: '°',
    factor: 180 / Math.PI,
    default: Math.PI,
    range: [Math.PI / 60, Math.PI],
    step: 1,
    digits: 0,
    effect: 'A fold bent further than this from its rest keeps the new shape; 180 never does',
  },
  /** Rate at which all motion dies away, 1/s. */
  damping: {
    group: 'Motion',
    label: 'Damping',
    unit: '1/s',
    factor: 1,
    default: 0.5,
    range: [0, 20],
    step: 0.1,
    digits: 1,
    effect: 'How fast all motion dies away',
  },
  /** Viscosity along the threads, N·s/m. */
  edgeDamping: {
    group: 'Motion',
    label: 'Thread damping',
    unit: 'N·s/m',
    factor: 1,
    default: 0,
    range: [0, 50],
    step: 0.1,
    digits: 1,
    effect: 'How fast quivering along the threads dies away, without slowing the swing',
  },
  /** Share of the root joint's moves that the cloth feels. */
  rootMotionShare: {
    group: 'Motion',
    label: 'Root motion felt',
    unit: '%',
    factor: 100,
    default: 1,
    range: [0, 1],
    step: 5,
    digits: 0,
    effect: 'How much of the root joint’s travel swings the cloth; at 0 % it is carried along',
  },
  /** Share of the root joint's turns that the cloth feels. */
  rootTurnShare: {
    group: 'Motion',
    label: 'Root turn felt',
    unit: '%',
    factor: 100,
    default: 1,
    range: [0, 1],
    step: 5,
    digits: 0,
    effect: 'How much of the root joint’s turning swings the cloth; at 0 % it is turned along',
  },
  /** What the root joint speeds up by at most, m/s², for the cloth to feel it; the rest carries it along. */
  mostRootAcceleration: {
    group: 'Motion',
    label: 'Root jump',
    unit: 'm/s²',
    factor: 1,
    default: 100,
    range: [5, 10_000],
    step: 5,
    digits: 0,
    isLogarithmic: true,
    effect:
      'Where the root joint speeds up or turns by more than this, it jumped: cloth is carried along, not thrown',
  },
  /** Factor on gravity. */
  gravityScale: {
    group: 'Motion',
    label: 'Gravity',
    unit: '×',
    factor: 1,
    default: 1,
    range: [-1, 3],
    step: 0.05,
    digits: 2,
    effect: 'Factor on gravity: more makes cloth of a large figure look small, and the other way round',
  },
  /** Coulomb friction against bodies and other cloth. */
  friction: {
    group: 'Contact',
    label: 'Friction',
    unit: '',
    factor: 1,
    default: 0.3,
    range: [0, 1.5],
    step: 0.05,
    digits: 2,
    effect: 'Against bodies and other cloth: 0 slides off, 1 holds on a slope of 45°',
  },
  /** Distance kept from bodies, m. */
  thickness: {
    group: 'Contact',
    label: 'Thickness',
    unit: 'mm',
    factor: 1000,
    default: 0.004,
    range: [0, 0.05],
    step: 0.5,
    digits: 1,
    effect: 'Distance kept from bodies',
  },
  /** Distance that points of the same garment keep from one another, m. 0: they pass through. */
  selfDistance: {
    group: 'Contact',
    label: 'Self-collision',
    unit: 'mm',
    factor: 1000,
    default: 0,
    range: [0, 0.05],
    step: 1,
    digits: 0,
    effect: 'Distance that its own folds keep from one another; 0 lets them pass, and costs nothing',
  },
  /** Distance kept from the garments beneath, m. 0: they are not felt. */
  layerMargin: {
    group: 'Contact',
    label: 'Layer margin',
    unit: 'mm',
    factor: 1000,
    default: 0.003,
    range: [0, 0.05],
    step: 0.5,
    digits: 1,
    effect: 'Distance kept from the garments beneath; 0 does not feel them, and costs nothing',
  },
  /** Coefficient of the force of moving air along it. */
  airDrag: {
    group: 'Air',
    label: 'Drag',
    unit: '',
    factor: 1,
    default: 1,
    range: [0, 3],
    step: 0.05,
    digits: 2,
    effect: 'How much moving air carries a face along',
  },
  /** Coefficient of the force of moving air across it. */
  airLift: {
    group: 'Air',
    label: 'Lift',
    unit: '',
    factor: 1,
    default: 0.8,
    range: [0, 3],
    step: 0.05,
    digits: 2,
    effect: 'How much moving air pushes a slanted face across itself: more flutters',
  },
  /** Steps per simulated second: as many in a frame as fit it best, whatever the frame rate. */
  substepsPerSecond: {
    group: 'Solver',
    label: 'Substeps',
    unit: '1/s',
    factor: 1,
    default: 360,
    range: [60, 1440],
    step: 60,
    digits: 0,
    isCount: true,
    effect:
      'Steps in each second, 360 are 6 in a frame at 60 frames a second: more is stiffer, and costs as much more',
  },
  /** Passes over the threads per step. */
  iterations: {
    group: 'Solver',
    label: 'Passes',
    unit: '',
    factor: 1,
    default: 1,
    range: [1, 8],
    step: 1,
    digits: 0,
    isCount: true,
    effect: 'Passes over the threads in each step: less stretch, for less than a step costs',
  },
} satisfies Record<string, FabricParameter>;

export type FabricKey = keyof typeof parameters;

/** The physical settings of a cloth, in SI units. */
export type FabricSettings = { -readonly [Key in keyof typeof parameters]: number };

export const FABRIC_PARAMETERS: Readonly<Record<FabricKey, FabricParameter>> = parameters;
