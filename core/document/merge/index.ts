export { type FieldConflict, type MergedRecord, mergeRecords } from './merge-records.ts';
export { type MergedValues, mergeValues } from './merge-values.ts';
