/** Milliseconds spent since the last `takeTimes`, by what spent them. */
export interface SolverTimes {
  stretch: number;
  bend: number;
  /** Tethers, inward limits, max distance, and moving on. */
  reach: number;
  bodies: number;
  /** Self-collision, and contact with garments beneath and body meshes. */
  self: number;
  layers: number;
  air: number;
}

export const NO_TIMES: Readonly<SolverTimes> = {
  stretch: 0,
  bend: 0,
  reach: 0,
  bodies: 0,
  self: 0,
  layers: 0,
  air: 0,
};
