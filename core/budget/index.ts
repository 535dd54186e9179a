export * from './calibrate/index.ts';
export * from './targets/index.ts';
