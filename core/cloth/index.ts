export { ClothSolver, type FrameForces, type SolverTimes } from './cloth-solver.ts';
export {
  type CompiledGarment,
  compileGarment,
  computeHingeWeights,
  measureHinge,
} from './compiled-garment.ts';
export {
  computeBendStiffness,
  FABRIC_DEFAULTS,
  FABRIC_RANGES,
  type FabricSettings,
  STANDARD_GRAVITY,
  STARTER_FABRICS,
} from './fabric.ts';
