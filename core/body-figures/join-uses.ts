import type { RecordId } from '../document/index.ts';
import type { BodyUse } from './measure-use.ts';

/** What each body does over several clips: touches and cost on the mean, vertices and what is saved where they are most. */
export function joinUses(clips: readonly (readonly BodyUse[])[]): Map<RecordId, BodyUse> {
  const joined = new Map<RecordId, BodyUse>();
  for (const use of clips.flat()) {
    const so = joined.get(use.id);
    joined.set(use.id, {
      id: use.id,
      touched: (so?.touched ?? 0) + use.touched / clips.length,
      vertices: Math.max(so?.vertices ?? 0, use.vertices),
      savedDepth: Math.max(so?.savedDepth ?? 0, use.savedDepth),
      savedArea: Math.max(so?.savedArea ?? 0, use.savedArea),
      cost: (so?.cost ?? 0) + use.cost / clips.length,
    });
  }
  return joined;
}
