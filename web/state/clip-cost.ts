import { useMemo } from 'react';
import { type Price, priceWork } from '../../core/cost/index.ts';
import { percentile } from '../../core/math/index.ts';
import { useStore } from './store.ts';
import { useWorkbench } from './workbench.ts';

/** What a frame of the clip costs that is looked at. */
export interface ClipCost {
  /** `clip`: over the whole clip as it is now; `live`: of the last half second, while the clip is measured. */
  kind: 'clip' | 'live';
  /** On the mean of its frames: in all, by part, garment and body. ms */
  mean: Price;
  /** 95 of 100 frames cost less, and the one that costs most; null while they are not known. ms */
  p95: number | null;
  worst: number | null;
}

/** The cost that the bar, the list of garments and the table of bodies tell; null before the first frame. */
export function useClipCost(): ClipCost | null {
  const { trial, preview, targets } = useWorkbench();
  const pricing = useStore(targets.store, (state) => state.pricing);
  const { work, frames } = useStore(trial.store, (state) => state);
  const live = useStore(preview.store, (state) => state.stats?.work ?? null);
  return useMemo(() => {
    if (work) {
      const each = frames.map(({ cost }) => cost);
      const mean = priceWork(work, pricing);
      // On several cores each frame waits for another garment: the mean of frames is not what their mean would take.
      const total =
        (pricing.cores ?? 1) > 1 ? each.reduce((all, cost) => all + cost, 0) / each.length : mean.total;
      return {
        kind: 'clip',
        mean: { ...mean, total },
        p95: percentile(each, 0.95),
        worst: Math.max(...each),
      };
    }
    return live && { kind: 'live', mean: priceWork(live, pricing), p95: null, worst: null };
  }, [work, frames, live, pricing]);
}
