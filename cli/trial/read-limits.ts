import { readFileSync } from 'node:fs';
import {
  type AuthoredDocument,
  type Limits,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import {
  MEASURES,
  type MeasureDefinition,
  type ResolvedLimits,
  resolveAllLimits,
} from '../../core/trials/index.ts';
import { UsageError } from '../usage-error.ts';

/** Limits of a file: for all garments, and for some by their names. */
export interface LimitsFile {
  all: Limits;
  garments: Readonly<Record<string, Limits>>;
}

/** @throws {UsageError} For a file that cannot be read, and for what is no limit. */
export function readLimits(path: string): LimitsFile {
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    throw new UsageError(`${path}: it is no JSON file of limits: ${(error as Error).message}`);
  }
  if (!isObject(json))
    throw new UsageError(`${path}: limits are an object, as {"penetrationMillimetres": 5}.`);
  const { garments = {}, ...all } = json;
  if (!isObject(garments))
    throw new UsageError(`${path}: "garments" is an object of limits by the names of garments.`);
  return {
    all: toLimits(path, all),
    garments: Object.fromEntries(
      Object.entries(garments).map(([name, limits]) => [name, toLimits(`${path}, "${name}"`, limits)]),
    ),
  };
}

/** Limits of each garment of a document: those of the file come first. @throws {UsageError} When it names a garment that is not there. */
export function applyLimits(
  document: AuthoredDocument,
  file: LimitsFile | null,
): Map<RecordId, ResolvedLimits> {
  const garments = listGarments(document);
  const named = new Map(Object.entries(file?.garments ?? {}));
  for (const name of named.keys()) {
    if (garments.some((garment) => garment.name === name)) continue;
    const known = garments.map((garment) => garment.name).join(', ');
    throw new UsageError(`the limits name a garment "${name}"; there are ${known}.`);
  }
  return resolveAllLimits(document, ({ name }) => [named.get(name) ?? {}, file?.all ?? {}]);
}

function toLimits(where: string, said: unknown): Limits {
  if (!isObject(said)) throw new UsageError(`${where}: limits are an object.`);
  const limits: Limits = {};
  for (const [name, value] of Object.entries(said)) {
    const measure: MeasureDefinition | undefined = MEASURES.find(({ fileKey }) => fileKey === name);
    if (!measure) {
      const known = MEASURES.map(({ fileKey }) => fileKey).join(', ');
      throw new UsageError(`${where}: "${name}" is no limit; there are ${known}.`);
    }
    if (value !== null && !(typeof value === 'number' && Number.isFinite(value) && value >= 0))
      throw new UsageError(`${where}: "${name}" is a number from 0 on, or null for none.`);
    limits[measure.key] = value === null ? null : value / (measure.fileFactor ?? measure.factor);
  }
  return limits;
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
