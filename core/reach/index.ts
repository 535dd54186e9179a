export {
  type BrushSurface,
  computeDab,
  computeFlood,
  computeSmoothAll,
  type Dab,
  mergeChanges,
  type SparseChange,
} from './brush.ts';
export { computeFalloff, FALLOFFS, type Falloff } from './falloff.ts';
