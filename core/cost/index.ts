export { type CostProfile, type FitError, findWorstError, REFERENCE_PROFILE } from './cost-profile.ts';
export { type GarmentPrice, type Price, priceCounts, priceWork, type UnitCosts } from './price-work.ts';
export { REFERENCE_COSTS } from './reference-costs.ts';
