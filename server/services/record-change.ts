import type { AuthoredRecord } from '../../core/document/index.ts';

/** One record as the page sends it: `null` deletes. */
export interface RecordChange {
  id: string;
  /** Version that the change was made on; 0 for a new record. */
  baseVersion: number;
  record: AuthoredRecord | null;
  /** New numbers kept beside a channel or a step, float32 little-endian; absent when they did not change. */
  array?: Uint8Array;
}
