import { readPackedNames } from '../../core/rig/index.ts';
import type { BlobService } from './blob-service.ts';

/** Names by the hash of the packed character, which never changes; of those that were asked for last. */
const known = new Map<string, ReadonlySet<string>>();
const MOST_KNOWN = 32;

/** Names of the nodes of a character, on which bodies may sit. */
export async function readJointNames(blobs: BlobService, packedHash: string): Promise<ReadonlySet<string>> {
  const found = known.get(packedHash);
  if (found) return found;
  const bytes = await blobs.get(packedHash);
  if (!bytes) throw new Error(`The packed character ${packedHash} is missing.`);
  const names = new Set(readPackedNames(new Uint8Array(bytes).buffer));
  known.set(packedHash, names);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return names;
}
