/**
 * The physical settings of a cloth. All in SI units; ranges, defaults and what each one does stand in
 * `FABRIC_PARAMETERS`.
 */
export interface FabricSettings {
  /** Areal density, kg/m². */
  density: number;
  /** Resistance to stretching along the warp and the weft, and to shearing between them, N/m. */
  stretchWarp: number;
  stretchWeft: number;
  shearStiffness: number;
  /** Share of its length by which a thread gets shorter before it resists. */
  compressionRange: number;
  /** Longest that a tether to a held point may become, over its rest length. */
  stretchCap: number;
  /** Bending rigidity per width, N·m. */
  bendStiffness: number;
  /** How much of the modelled folds the cloth wants back: 0 flat, 1 as modelled. */
  foldMemory: number;
  /** Unfolding by more than this angle (rad) is kept: the fold has yielded. π: never. */
  plasticYieldAngle: number;
  /** Rate at which all motion dies away, 1/s. */
  damping: number;
  /** Viscosity along the threads, N·s/m. */
  edgeDamping: number;
  /** Share of the root joint's moves, and of its turns, that the cloth feels. */
  rootMotionShare: number;
  rootTurnShare: number;
  /** Factor on gravity. */
  gravityScale: number;
  /** Coulomb friction against bodies and other cloth. */
  friction: number;
  /** Distance kept from bodies, m. */
  thickness: number;
  /** Distance that points of the same garment keep from one another, m. 0: they pass through. */
  selfDistance: number;
  /** Distance kept from the garments beneath, m. 0: they are not felt. */
  layerMargin: number;
  /** Coefficients of the forces of moving air, along it and across it. */
  airDrag: number;
  airLift: number;
  /** Steps per simulated frame, and passes over the threads per step. */
  substeps: number;
  iterations: number;
}

export type FabricKey = keyof FabricSettings;
