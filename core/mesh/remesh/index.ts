export { EditableMesh } from './editable-mesh.ts';
export { distanceToSegment } from './feature-polylines.ts';
export {
  measureBorderDeviation,
  measureSmallestAngles,
  measureSurface,
  type SurfaceFigures,
} from './measure-surface.ts';
export { type RemeshOptions, remesh } from './remesh.ts';
