import { type AuthoredDocument, listGarments, type RecordId } from '../document/index.ts';
import { FRAME_RATE } from '../run/index.ts';
import type { BudgetChange } from './budget-change.ts';

/** A change in words, verb first. */
export function tellChange({ records }: Pick<AuthoredDocument, 'records'>, change: BudgetChange): string {
  const nameOf = (id: RecordId): string => {
    const record = records.get(id);
    return record && 'name' in record ? record.name : 'what is no more';
  };
  /** A fabric by the garments that are of it. */
  const wearersOf = (id: RecordId): string =>
    listGarments({ records })
      .filter(({ fabricId }) => fabricId === id)
      .map(({ name }) => name)
      .join(', ') || nameOf(id);
  switch (change.kind) {
    case 'dropBodies': {
      const { bodyIds } = change;
      return bodyIds.length === 1
        ? `Remove body ${nameOf(bodyIds[0]!)}`
        : `Remove ${bodyIds.length} bodies that nothing touches`;
    }
    case 'dropBodyMesh':
      return `Remove body mesh ${nameOf(change.bodyMeshId)}`;
    case 'roundBody':
      return `Make ${nameOf(change.bodyId)} a tapered capsule`;
    case 'substeps':
      return `${wearersOf(change.fabricId)}: ${change.substepsPerSecond / FRAME_RATE} substeps a frame`;
    case 'iterations':
      return `${wearersOf(change.fabricId)}: ${change.iterations} ${change.iterations === 1 ? 'iteration' : 'iterations'}`;
    case 'noSelfCollision':
      return `${wearersOf(change.fabricId)}: self-collision off`;
    case 'clear':
      return `${nameOf(change.garmentId)}: clear of ${nameOf(change.otherId)}`;
    case 'simMesh':
      return `${nameOf(change.garmentId)}: sim mesh of ${(100 * change.edgeLength).toFixed(1)} cm edges`;
    case 'joinRows':
      return `${nameOf(change.garmentId)}: join thin rows`;
    case 'hold':
      return `${nameOf(change.garmentId)}: hold what reaches less than ${(100 * change.below).toFixed(1)} cm`;
  }
}
