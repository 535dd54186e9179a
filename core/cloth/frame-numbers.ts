import type { BendFilter } from './bend-filter.ts';

/** The numbers of one frame, beside the arrays of `SolverState`. */
export interface FrameNumbers {
  /** Frames since the last reset or jump. */
  index: number;
  /** Of the frame and of a substep, s. */
  seconds: number;
  h: number;
  substeps: number;
  iterations: number;
  /** Substeps until the air is looked at again. */
  airEvery: number;
  /** kg/m² */
  density: number;
  /** m/s², along y. */
  gravity: number;
  /** Null: there is no bending. */
  bendFilter: BendFilter | null;
  /** Threads give way when pushed together. */
  givesWay: boolean;
  hasEdgeDamping: boolean;
  foldMemory: number;
  /** Sine of half the yield angle; 1 or more: folds never yield. */
  plasticYieldAngle: number;
  hasInward: boolean;
  thickness: number;
  friction: number;
  /** Times its length at rest that cloth may be long. */
  stretchCap: number;
  /** 0: off. */
  selfDistance: number;
  /** Folds keep off by faces, not by points alone: the mesh is coarser than the distance. */
  isSelfByFaces: boolean;
  layerMargin: number;
  airDrag: number;
  airLift: number;
  /** Mean velocity of the air in this frame, m/s. */
  wind: readonly [number, number, number];
  /** Turbulence, rows of 8: wave vector (cycles per m), phase (cycles), amplitude (m/s), 0. [WAVE_COUNT, 8] */
  waves: Float32Array;
  /** Longest side of any triangle at rest, m. */
  largestFace: number;
  capsuleCount: number;
  hullCount: number;
  heldCount: number;
  pulledCount: number;
}

export const WAVE_COUNT = 6;
