import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { PACKED_CHARACTER_VERSION, unpackCharacter } from '../../core/rig/index.ts';
import type { ICharacter } from '../entities/entities.ts';
import { BlobService } from './blob-service.ts';

/** What records are checked against. */
export interface CharacterShape {
  /** Of all nodes; bodies sit on these. */
  nodeNames: readonly string[];
}

/** By hash of the unpacked character; the oldest go first. */
const known = new Map<string, CharacterShape>();
const MOST_KNOWN = 50;

/** @returns Null when another build unpacked the character, or its bytes are gone: nothing can be said then. */
export async function readCharacterShape(
  em: SqlEntityManager,
  { packedHash, packedVersion }: Pick<ICharacter, 'packedHash' | 'packedVersion'>,
): Promise<CharacterShape | null> {
  const found = known.get(packedHash);
  if (found) return found;
  if (packedVersion !== PACKED_CHARACTER_VERSION) return null;
  const bytes = await new BlobService(em).get(packedHash);
  if (!bytes) return null;
  const shape = { nodeNames: unpackCharacter(new Uint8Array(bytes).buffer).skeleton.names };
  known.set(packedHash, shape);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return shape;
}
