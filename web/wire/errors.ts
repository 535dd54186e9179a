import type { AuthoredRecord } from '../../core/document/index.ts';

/** A record that another window saved first. */
export interface ConflictBody {
  id: string;
  version: number;
  record: AuthoredRecord | null;
  /** Base64 of the numbers kept beside it, f32, when there are any. */
  array: string | null;
}

/** Why a request was not done: `{ "error": ErrorBody }`. */
export interface ErrorBody {
  message: string;
  where?: string;
  file?: string;
  found?: string;
  remedy?: string;
  conflicts?: ConflictBody[];
}
