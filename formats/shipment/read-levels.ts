import { type GarmentLevel, levelsField, type RecordId } from '../../core/document/index.ts';
import { IntakeError } from '../intake-error.ts';
import { CLOTH_EXTENSION, type ShippedLevel } from './cloth-extension.ts';

/**
 * Levels of detail of a garment as they are authored: their meshes are made anew when they are needed.
 * @param bodyIds - Of the garment's set, in the order of the file. @throws {IntakeError} For levels that are incomplete.
 */
export function readLevels(
  // Before 1.11 there were none.
  shipped: readonly ShippedLevel[] | undefined,
  bodyIds: readonly RecordId[],
  where: string,
  file: string,
): GarmentLevel[] {
  if (shipped === undefined) return [];
  const levels = Array.isArray(shipped)
    ? shipped.map((level) => {
        if (level === null || typeof level !== 'object') return level;
        const { mesh: _mesh, withoutBodies, ...settings } = level;
        return {
          ...settings,
          withoutBodies: Array.isArray(withoutBodies)
            ? withoutBodies.flatMap((index) => bodyIds[index] ?? [])
            : withoutBodies,
        };
      })
    : shipped;
  if (!levelsField.isValidSync(levels, { strict: true }))
    throw new IntakeError(
      'bad-reference',
      file,
      where,
      `Its levels of detail are incomplete, or their numbers are beyond what ${CLOTH_EXTENSION} holds.`,
      'Ship the file again.',
    );
  return levels as unknown as GarmentLevel[];
}

/** Primitives that are meshes of levels, as "node primitive" of the file. */
export function listLevelMeshes(garments: readonly { levels?: readonly ShippedLevel[] }[]): Set<string> {
  const places = new Set<string>();
  for (const { levels } of garments)
    if (Array.isArray(levels))
      for (const level of levels) if (level?.mesh) places.add(`${level.mesh.node} ${level.mesh.primitive}`);
  return places;
}
