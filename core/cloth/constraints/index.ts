export { AIR_DENSITY, updatePushes } from './air.ts';
export { solveBend, updateFolds } from './bend.ts';
export { solveBodies } from './bodies.ts';
export { updateHolds } from './give-way.ts';
export { updateInward, updateNormals } from './normals.ts';
export { holdTethers, holdWithinReach, predict, pull, updateVelocities } from './points.ts';
export { findSelfPairs, solveSelf } from './self.ts';
export { dampEdges, solveStretch } from './stretch.ts';
export { findNearestTriangles, solveSurface } from './surfaces.ts';
