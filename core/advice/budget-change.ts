import type { RecordId } from '../document/index.ts';

/** One thing that may make an asset cheaper. Lengths in m. */
export type BudgetChange =
  | { kind: 'dropBodies'; bodyIds: readonly RecordId[] }
  | { kind: 'dropBodyMesh'; bodyMeshId: RecordId }
  /** A hull or box becomes a tapered capsule. */
  | { kind: 'roundBody'; bodyId: RecordId }
  | { kind: 'substeps'; fabricId: RecordId; substepsPerSecond: number }
  | { kind: 'iterations'; fabricId: RecordId; iterations: number }
  | { kind: 'noSelfCollision'; fabricId: RecordId }
  /** A garment is not kept off one beneath that it never comes near. */
  | { kind: 'clear'; garmentId: RecordId; otherId: RecordId }
  /** Simulated on an even mesh of this edge length over what is drawn. */
  | { kind: 'simMesh'; garmentId: RecordId; edgeLength: number }
  /** Rows of thin triangles of its mesh are joined. */
  | { kind: 'joinRows'; garmentId: RecordId }
  /** Vertices with no more reach than this are held. */
  | { kind: 'hold'; garmentId: RecordId; below: number };

/** What two changes cannot both be done to: only one of those with the same key goes into a combination. */
export function tellPlaceOf(change: BudgetChange): string {
  switch (change.kind) {
    case 'dropBodies':
      return `bodies ${change.bodyIds.join()}`;
    case 'dropBodyMesh':
      return `mesh ${change.bodyMeshId}`;
    case 'roundBody':
      return `bodies ${change.bodyId}`;
    case 'substeps':
    case 'iterations':
    case 'noSelfCollision':
      return `${change.kind} ${change.fabricId}`;
    case 'clear':
      return `clear ${change.garmentId} ${change.otherId}`;
    default:
      // Maps belong to a mesh: one change of either at a time.
      return `map ${change.garmentId}`;
  }
}
