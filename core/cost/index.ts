export {
  type CostProfile,
  type FitError,
  type FittedGroup,
  findWorstError,
  isDoubtful,
  REFERENCE_PROFILE,
} from './cost-profile.ts';
export { findFrameTime } from './find-frame-time.ts';
export {
  type GarmentPrice,
  listPrices,
  listWaits,
  type Price,
  type Pricing,
  priceCounts,
  priceWork,
  type UnitCosts,
} from './price-work.ts';
export { REFERENCE_COSTS, REFERENCE_PRICING } from './reference-costs.ts';
export {
  findBudget,
  MACHINE_ID,
  REFERENCE_TARGET,
  TARGET_DEFAULTS,
  TARGET_RANGES,
  type TargetProfile,
  type TargetSettings,
  toPricing,
} from './target-profile.ts';
