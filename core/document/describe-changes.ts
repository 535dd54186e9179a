import { dequal } from 'dequal/lite';
import { FABRIC_KEYS, FABRIC_PARAMETERS } from '../cloth/index.ts';
import {
  type AuthoredRecord,
  countRecords,
  listChangedFields,
  RECORD_TYPES,
  type RecordId,
  tellRecord,
} from './records/index.ts';

/** A record as a state of a document holds it; the hash stands for the numbers beside it. */
export interface StateRecord {
  record: AuthoredRecord;
  arrayHash: string | null;
}

export type DocumentState = ReadonlyMap<RecordId, StateRecord>;

/** More of one type than this are counted instead of named. */
const MOST_NAMED = 2;

/** What changed from one state of a document to another, in words, one sentence each; empty when nothing did. */
export function describeChanges(before: DocumentState, after: DocumentState): string[] {
  const told: string[] = [];
  for (const type of RECORD_TYPES) {
    const [added, removed, changed]: [AuthoredRecord[], AuthoredRecord[], string[]] = [[], [], []];
    for (const [id, { record, arrayHash }] of after) {
      if (record.type !== type) continue;
      const was = before.get(id);
      if (!was) added.push(record);
      else {
        const what = describeChange(was, { record, arrayHash });
        if (what) changed.push(`${capitalise(tellRecord(record))}: ${what}`);
      }
    }
    for (const [id, { record }] of before) if (record.type === type && !after.has(id)) removed.push(record);
    told.push(...tellSeveral(added, 'added'), ...tellSeveral(removed, 'removed'));
    if (changed.length > MOST_NAMED) told.push(`${countRecords(type, changed.length)} changed`);
    else told.push(...changed);
  }
  return told;
}

function tellSeveral(records: readonly AuthoredRecord[], verb: string): string[] {
  if (records.length === 0) return [];
  if (records.length > MOST_NAMED) return [`${countRecords(records[0]!.type, records.length)} ${verb}`];
  return records.map((record) => `${capitalise(tellRecord(record))} ${verb}`);
}

/** Words of what differs in one record; empty when nothing does that is told. */
function describeChange(was: StateRecord, is: StateRecord): string {
  const fields = listChangedFields(was.record, is.record);
  const isFabric = was.record.type === 'fabric' && is.record.type === 'fabric';
  const [p, q] = [was.record, is.record];
  const words =
    isFabric && p.type === 'fabric' && q.type === 'fabric'
      ? [
          ...fields.filter((field) => field !== 'settings'),
          ...FABRIC_KEYS.filter((key) => p.settings[key] !== q.settings[key]).map((key) =>
            FABRIC_PARAMETERS[key].label.toLowerCase(),
          ),
        ]
      : fields;
  if (was.arrayHash !== is.arrayHash) words.push(is.record.type === 'channel' ? 'values' : 'shape');
  return words.join(', ');
}

function capitalise(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** Whether two states hold the same. */
export function isSameState(p: DocumentState, q: DocumentState): boolean {
  return dequal(new Map(p), new Map(q));
}
