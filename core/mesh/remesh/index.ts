export { EditableMesh } from './editable-mesh.ts';
export {
  measureBorderDeviation,
  measureSmallestAngles,
  measureSurface,
  type SurfaceFigures,
} from './measure-surface.ts';
export { type RemeshOptions, remesh } from './remesh.ts';
