import { FrameHelpers } from '../../core/cloth/index.ts';

/** More would wait: characters have few garments that do not wait for one another. */
const MOST_HELPERS = 3;

/**
 * Workers that compute garments beside the one that calls, as many as there are other cores, up to three. Undefined where there is a single core,
 * or no memory that workers share (a page without isolation).
 *
 * @param spared - Cores that something else needs.
 */
export function createFrameHelpers(spared = 0): FrameHelpers | undefined {
  const most = Math.min(MOST_HELPERS, navigator.hardwareConcurrency - 1 - spared);
  if (!crossOriginIsolated || most < 1) return undefined;
  return new FrameHelpers(most, () => {
    const worker = new Worker(new URL('./frame-helper.worker.ts', import.meta.url), { type: 'module' });
    return (message) => worker.postMessage(message);
  });
}
