import { type AuthoredDocument, type GarmentRecord, listGarments } from '../core/document/index.ts';
import type { Character } from '../core/rig/index.ts';
import { readSource } from './read-source.ts';
import { UsageError } from './usage-error.ts';

/** A shipped character with its innermost garment. @throws {UsageError} When it has none. */
export async function readDressed(
  file: string,
): Promise<{ character: Character; authored: AuthoredDocument; garment: GarmentRecord }> {
  const { character, authored } = await readSource(file);
  const garment = authored && listGarments(authored)[0];
  if (!authored || !garment)
    throw new UsageError(`${file} has no garments: ship it from the workbench first.`);
  return { character, authored, garment };
}
