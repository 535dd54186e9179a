import type { AuthoredRecord } from '../../core/document/index.ts';

/** New values of some elements of an array, or (without indices) a whole new one. */
export interface ArrayEdit {
  /** Rising. */
  indices: Uint32Array | null;
  values: Float32Array;
}

/** One record as the page sends it: `null` deletes. */
export interface RecordChange {
  id: string;
  /** Version that the change was made on; 0 for a new record. */
  baseVersion: number;
  record: AuthoredRecord | null;
  /** New numbers kept beside a channel or a step; absent when they did not change. */
  array?: ArrayEdit;
}
