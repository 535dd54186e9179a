export { calibrate } from './calibrate.ts';
export { createCalibrationCharacter } from './calibration-character.ts';
export { createCalibrationDocument } from './calibration-document.ts';
export { fitUnitCosts, measureFit, sumCounts } from './fit-unit-costs.ts';
export type { TimingClock } from './garment-player.ts';
export { FITTED, type GarmentSpec, listGarmentSpecs, TRIED } from './garment-spec.ts';
export type { GarmentTiming } from './time-garments.ts';
