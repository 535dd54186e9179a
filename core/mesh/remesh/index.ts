export { compareSurfaces, listFaults, type SurfaceComparison } from './compare-surfaces.ts';
export { EditableMesh } from './editable-mesh.ts';
export { estimateRemesh, type RemeshEstimate, refuseTooDear } from './estimate-remesh.ts';
export { distanceToSegment } from './feature-polylines.ts';
export { fitSurface } from './fit-surface.ts';
export { measureDeviation, type SurfaceDeviation } from './measure-deviation.ts';
export {
  measureBorderDeviation,
  measureSmallestAngles,
  measureSurface,
  type SurfaceFigures,
} from './measure-surface.ts';
export { type MendedSource, mendSource } from './mend-source.ts';
export { type ReduceOptions, reduceSurface } from './reduce-surface.ts';
export { type RemeshOptions, remesh } from './remesh.ts';
