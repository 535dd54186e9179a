export {
  BRUSH_MODES,
  type BrushAct,
  type BrushMode,
  type BrushSurface,
  brushPoints,
  computeDab,
  type Dab,
} from './brush.ts';
export {
  CHANNEL_KINDS,
  CHANNELS,
  type Channel,
  type ChannelKind,
  formatValue,
  LINING_FROM,
  limitValue,
  NO_INWARD_LIMIT,
  SHIPPED_KINDS,
} from './channels/index.ts';
export {
  type CheckedReach,
  checkReach,
  computeUsableReach,
  type ReachWarning,
} from './check-reach.ts';
export { computeFalloff, FALLOFFS, type Falloff } from './falloff.ts';
export { fitTop } from './fit-top.ts';
export * from './images/index.ts';
export { Mirror, mirrorValues, type PositionOnSurface } from './mirror-place.ts';
export {
  findBorderLoop,
  findEdgeLoop,
  growPoints,
  invertPoints,
  type PointSet,
  pickConnected,
  pickHeld,
  shrinkPoints,
} from './pick-points.ts';
export { computeRamp, writeRamp } from './ramp.ts';
export { EVEN_RAMP, evaluateCurve, moveKnot, type RampCurve } from './ramp-curve.ts';
export {
  compareValues,
  createSparseChange,
  mergeChanges,
  NO_CHANGE,
  type SparseChange,
} from './sparse-change.ts';
export {
  type BrushPosition,
  joinTouched,
  type TouchedPoints,
  type TouchedSurface,
  touchPoints,
} from './touch-points.ts';
export { type ColorPart, readVertexColors } from './vertex-colors.ts';
export {
  computeClamped,
  computeFlood,
  computeInverted,
  computeOffset,
  computeScaled,
  computeSmoothAll,
  type WholeMapOptions,
} from './whole-map.ts';
