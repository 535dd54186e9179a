import type { BodyUse } from '../../../../../core/body-figures/index.ts';
import type { RecordId } from '../../../../../core/document/index.ts';
import type { MeasuredUse } from '../../../../state/body-figures.ts';

/** Of each body over the clips that were measured: touches and cost on the mean, vertices and saved depth where they are most. */
export function summariseUse({ clips }: MeasuredUse): Map<RecordId, BodyUse> {
  const found = new Map<RecordId, BodyUse>();
  for (const { uses } of clips) {
    for (const use of uses) {
      const so = found.get(use.id);
      found.set(use.id, {
        id: use.id,
        touched: (so?.touched ?? 0) + use.touched / clips.length,
        vertices: Math.max(so?.vertices ?? 0, use.vertices),
        savedDepth: Math.max(so?.savedDepth ?? 0, use.savedDepth),
        savedArea: Math.max(so?.savedArea ?? 0, use.savedArea),
        cost: (so?.cost ?? 0) + use.cost / clips.length,
      });
    }
  }
  return found;
}
