export * from './calibrate/index.ts';
