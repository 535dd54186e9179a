export type { RigidMotion } from './carry-state.ts';
export {
  ClothSolver,
  type FrameForces,
  type PointScales,
  type Pull,
  type SolverOptions,
} from './cloth-solver.ts';
export { computeHingeWeights, measureHinge } from './compile/hinges.ts';
export type { SolverIndex } from './compile/point-order.ts';
export { orderAlongCurve } from './compile/point-order.ts';
export { type CompiledGarment, type CompileOptions, compileGarment } from './compiled-garment.ts';
export { computeEdgeStiffness } from './derive-factors.ts';
export {
  completeFabric,
  computeBendingLength,
  computeBendStiffness,
  computeElongation,
  FABRIC_DEFAULTS,
  FABRIC_KEYS,
  FABRIC_RANGES,
  FRAMES_OF_EARLIER_SUBSTEPS,
  STANDARD_GRAVITY,
} from './fabric.ts';
export { LIBRARY_FABRICS, type LibraryFabric } from './fabric-library.ts';
export {
  FABRIC_GROUPS,
  FABRIC_PARAMETERS,
  type FabricKey,
  type FabricParameter,
  type FabricSettings,
} from './fabric-parameters.ts';
export { FrameHelpers, type FramePost } from './kernel/frame-helpers.ts';
export { type FrameMessage, FrameServer } from './kernel/frame-server.ts';
export { KernelSolver } from './kernel/kernel-solver.ts';
export { PlainSolver } from './plain-solver.ts';
export type { SurfaceTopology } from './solver-state.ts';
export { NO_TIMES, type SolverTimes } from './solver-times.ts';
export {
  type BodyCounts,
  createCounts,
  SOLVER_WORK,
  type SolverCounts,
  type SolverWork,
  type SolverWorkKey,
} from './solver-work.ts';
export { computeTethers, type Tethers } from './tethers.ts';
export { visitStrains, writeStrains } from './visit-strains.ts';
export { computeWindAt, NO_WIND, STILL_AIR, type Wind, type WindSettings } from './wind.ts';
