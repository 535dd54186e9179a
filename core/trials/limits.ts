import {
  type AuthoredDocument,
  type GarmentRecord,
  getScene,
  type Limits,
  listGarments,
  type MeasureKey,
  type RecordId,
} from '../document/index.ts';
import { MEASURES } from './measures.ts';

export type ResolvedLimits = Record<MeasureKey, number | null>;

/** Limits that hold where several say some, the nearest first; else those to begin with. */
export function resolveLimits(...said: readonly Limits[]): ResolvedLimits {
  const resolved = {} as ResolvedLimits;
  for (const { key, limit } of MEASURES) {
    const own = said.find((limits) => limits[key] !== undefined)?.[key];
    resolved[key] = own === undefined ? limit : own;
  }
  return resolved;
}

/**
 * Limits of each garment of a document: its own, else the character's, else the project's, else those to begin with.
 * @param first - What is said of a garment before all that the document says, the nearest first.
 */
export function resolveAllLimits(
  document: AuthoredDocument,
  first: (garment: GarmentRecord) => readonly Limits[] = () => [],
): Map<RecordId, ResolvedLimits> {
  const { trialLimits } = getScene(document);
  const { projectLimits = {} } = document;
  return new Map(
    listGarments(document).map((garment) => [
      garment.id,
      resolveLimits(...first(garment), garment.trialLimits, trialLimits, projectLimits),
    ]),
  );
}
