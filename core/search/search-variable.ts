import { FABRIC_PARAMETERS, type FabricKey } from '../cloth/index.ts';
import {
  type AuthoredDocument,
  type AuthoredRecord,
  findChannel,
  type GarmentRecord,
  listBodies,
  listBodyMeshes,
  type RecordId,
} from '../document/index.ts';

/** A number that a search may move. Reach: a factor on the max distance; margin: added to that of every body of the garment's set, m. */
export type VariableKey = FabricKey | 'reach' | 'margin';

/** Fabric first, as it is shown. */
export const VARIABLE_KEYS: readonly VariableKey[] = [
  ...(Object.keys(FABRIC_PARAMETERS) as FabricKey[]),
  'reach',
  'margin',
];

export interface SearchVariable {
  key: VariableKey;
  /** Stored values, see `describeVariable`. */
  low: number;
  high: number;
}

export interface VariableDescription {
  label: string;
  unit: string;
  /** Shown value over stored one. */
  factor: number;
  digits: number;
  step: number;
  /** Stored values that it may be within. */
  range: readonly [low: number, high: number];
  /** Moved by its logarithm. */
  isLogarithmic: boolean;
  isCount: boolean;
  effect: string;
}

const OWN: Readonly<Record<'reach' | 'margin', VariableDescription>> = {
  reach: {
    label: 'Reach',
    unit: '%',
    factor: 100,
    digits: 0,
    step: 5,
    range: [0.1, 3],
    isLogarithmic: true,
    isCount: false,
    effect: 'Factor on the painted max distance of every vertex',
  },
  margin: {
    label: 'Body margin',
    unit: 'mm',
    factor: 1000,
    digits: 1,
    step: 0.5,
    range: [-0.05, 0.05],
    isLogarithmic: false,
    isCount: false,
    effect: 'Added to the margin of every body of the set',
  },
};

/** Smallest value of a logarithmic scale whose range begins at 0, as a share of the range's end. */
const LEAST_SHARE = 1e-6;
/** Margins that a body may have, m. */
const MARGINS = [0, 0.1] as const;

/** What a variable is. */
export function describeVariable(key: VariableKey): VariableDescription {
  if (key === 'reach' || key === 'margin') return OWN[key];
  const { isLogarithmic = false, isCount = false, ...parameter } = FABRIC_PARAMETERS[key];
  return { ...parameter, isLogarithmic, isCount };
}

/** What a variable is now. */
export function readVariable(document: AuthoredDocument, garment: GarmentRecord, key: VariableKey): number {
  if (key === 'reach') return 1;
  if (key === 'margin') return 0;
  const fabric = document.records.get(garment.fabricId);
  return fabric?.type === 'fabric' ? fabric.settings[key] : FABRIC_PARAMETERS[key].default;
}

/** The value at a share of the way from low to high. @param share - 0 to 1 */
export function toValue({ key, low, high }: SearchVariable, share: number): number {
  const { isLogarithmic, isCount, step, factor } = describeVariable(key);
  const value =
    isLogarithmic && high > low
      ? spread(low, high, share)
      : low + Math.min(1, Math.max(0, share)) * (high - low);
  if (!isCount) return value;
  const unit = step / factor;
  return Math.min(high, Math.max(low, Math.round(value / unit) * unit));
}

/** The share of the way at which a value lies: the inverse of `toValue`, but for what that rounds. */
export function toShare({ key, low, high }: SearchVariable, value: number): number {
  if (high <= low) return 0;
  const kept = Math.min(high, Math.max(low, value));
  if (!describeVariable(key).isLogarithmic) return (kept - low) / (high - low);
  const least = Math.max(low, LEAST_SHARE * high);
  return kept <= least ? 0 : Math.log(kept / least) / Math.log(high / least);
}

function spread(low: number, high: number, share: number): number {
  if (share <= 0) return low;
  const least = Math.max(low, LEAST_SHARE * high);
  return Math.min(high, least * (high / least) ** Math.min(1, share));
}

/** What values of variables change in a document: records and arrays as they become. */
export interface VariableChanges {
  records: Map<RecordId, AuthoredRecord>;
  arrays: Map<RecordId, Float32Array>;
}

/**
 * What a document becomes with values of variables; it is not changed itself.
 * @param values - One for each variable, stored units.
 */
export function changeVariables(
  document: AuthoredDocument,
  garment: GarmentRecord,
  variables: readonly SearchVariable[],
  values: readonly number[],
): VariableChanges {
  const changes: VariableChanges = { records: new Map(), arrays: new Map() };
  const fabric = document.records.get(garment.fabricId);
  const settings: Partial<Record<FabricKey, number>> = {};
  for (const [v, { key }] of variables.entries()) {
    const value = values[v]!;
    if (key === 'reach') scaleReach(document, garment, value, changes);
    else if (key === 'margin') shiftMargins(document, garment, value, changes);
    else settings[key] = value;
  }
  if (fabric?.type === 'fabric' && Object.keys(settings).length > 0)
    changes.records.set(fabric.id, { ...fabric, settings: { ...fabric.settings, ...settings } });
  return changes;
}

/** A document with changes; what they do not touch is shared. */
export function applyChanges(document: AuthoredDocument, changes: VariableChanges): AuthoredDocument {
  return {
    records: new Map([...document.records, ...changes.records]),
    arrays: new Map([...document.arrays, ...changes.arrays]),
  };
}

function scaleReach(
  document: AuthoredDocument,
  garment: GarmentRecord,
  factor: number,
  { arrays }: VariableChanges,
): void {
  const channel = findChannel(document, garment.id);
  const values = channel && document.arrays.get(channel.id);
  if (values)
    arrays.set(
      channel.id,
      values.map((value) => value * factor),
    );
}

function shiftMargins(
  document: AuthoredDocument,
  garment: GarmentRecord,
  shift: number,
  { records }: VariableChanges,
): void {
  const all = [...listBodies(document, garment.bodySetId), ...listBodyMeshes(document, garment.bodySetId)];
  for (const body of all) {
    const margin = Math.min(MARGINS[1], Math.max(MARGINS[0], body.margin + shift));
    records.set(body.id, { ...body, margin });
  }
}
