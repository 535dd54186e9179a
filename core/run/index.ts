export { CharacterRun, FRAME_RATE, type RunTimes } from './character-run.ts';
export { GarmentRun } from './garment-run.ts';
export { type GarmentSetup, setUpGarments } from './garment-setup.ts';
