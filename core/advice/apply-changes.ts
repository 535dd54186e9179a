import { convertShape } from '../bodies/index.ts';
import type { FabricSettings } from '../cloth/index.ts';
import {
  type AuthoredDocument,
  type AuthoredRecord,
  findChannel,
  listRecords,
  type RecordId,
} from '../document/index.ts';
import { type Coarsened, coarsenGarment, joinThinRows, readSimSettings } from '../prepare/index.ts';
import type { Character } from '../rig/index.ts';
import type { BudgetChange } from './budget-change.ts';

/**
 * What a character and its document become with changes, one after the other; nothing that is given is changed.
 *
 * @param character - Prepared.
 * @throws {RangeError} When what a change is about is not there, or it cannot be done.
 */
export function applyBudgetChanges(
  character: Character,
  document: AuthoredDocument,
  changes: readonly BudgetChange[],
): Coarsened {
  return changes.reduce<Coarsened>((now, change) => applyOne(now, change), { character, document });
}

function applyOne({ character, document }: Coarsened, change: BudgetChange): Coarsened {
  const records = new Map(document.records);
  const arrays = new Map(document.arrays);
  const set = (fabricId: RecordId, settings: Partial<FabricSettings>): void => {
    const fabric = find(document, fabricId, 'fabric');
    records.set(fabricId, { ...fabric, settings: { ...fabric.settings, ...settings } });
  };
  switch (change.kind) {
    case 'dropBodies':
      for (const id of change.bodyIds) {
        find(document, id, 'body');
        records.delete(id);
      }
      break;
    case 'dropBodyMesh':
      find(document, change.bodyMeshId, 'bodyMesh');
      records.delete(change.bodyMeshId);
      break;
    case 'roundBody': {
      const body = find(document, change.bodyId, 'body');
      records.set(body.id, { ...body, shape: convertShape(body.shape, 'taperedCapsule') });
      break;
    }
    case 'substeps':
      set(change.fabricId, { substepsPerSecond: change.substepsPerSecond });
      break;
    case 'iterations':
      set(change.fabricId, { iterations: change.iterations });
      break;
    case 'noSelfCollision':
      set(change.fabricId, { selfDistance: 0 });
      break;
    case 'clear': {
      const garment = find(document, change.garmentId, 'garment');
      find(document, change.otherId, 'garment');
      records.set(garment.id, { ...garment, clearOf: [...garment.clearOf, change.otherId] });
      break;
    }
    case 'hold': {
      const channel = findChannel(document, change.garmentId);
      const values = channel && document.arrays.get(channel.id);
      if (!values) throw new RangeError('The garment has no map of max distances any more.');
      arrays.set(channel.id, holdBelow(values, change.below));
      break;
    }
    case 'joinRows':
      return joinThinRows(character, document, find(document, change.garmentId, 'garment'));
    case 'simMesh': {
      const garment = find(document, change.garmentId, 'garment');
      return coarsenGarment(
        character,
        document,
        garment,
        readSimSettings(document, garment, change.edgeLength),
      );
    }
  }
  return { character, document: { ...document, records, arrays } };
}

type RecordOf<T extends AuthoredRecord['type']> = Extract<AuthoredRecord, { type: T }>;

function find<T extends AuthoredRecord['type']>(
  { records }: AuthoredDocument,
  id: RecordId,
  type: T,
): RecordOf<T> {
  const record = records.get(id);
  if (record?.type !== type) throw new RangeError('What is to be changed is not there any more.');
  return record as RecordOf<T>;
}

/** Of the mass of each fabric, at most. */
const SHAKEN_BY = 1e-4;

/** A document that differs by next to nothing: contacts tell how touchy they are by what becomes of it. @param strength - From -1 to 1. */
export function shakeDocument(document: AuthoredDocument, strength: number): AuthoredDocument {
  const records = new Map(document.records);
  for (const record of listRecords(document, 'fabric')) {
    const { settings } = record;
    const density = settings.density * (1 + SHAKEN_BY * strength);
    records.set(record.id, { ...record, settings: { ...settings, density } });
  }
  return { ...document, records };
}

/** Values with those below a limit at 0. */
function holdBelow(values: Float32Array, below: number): Float32Array {
  return values.map((value) => (value < below ? 0 : value));
}
