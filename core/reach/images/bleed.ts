import type { Coverage } from './rasterise.ts';

/**
 * Fills every texel that no triangle covers from those around it, near ones first: whatever filters the image later (a
 * smaller copy of it, a sample beside a seam) finds nothing foreign there. By averages of ever coarser squares of two
 * by two, and back. O(texels).
 */
export function bleed({ size, texels, isCovered }: Pick<Coverage, 'size' | 'texels' | 'isCovered'>): void {
  if (size === 1) return;
  const half = Math.ceil(size / 2);
  const coarse = new Float32Array(half * half);
  const isKnown = new Uint8Array(half * half);
  for (let y = 0; y < half; y++) {
    for (let x = 0; x < half; x++) {
      let [sum, count] = [0, 0];
      for (let dy = 0; dy < 2; dy++) {
        for (let dx = 0; dx < 2; dx++) {
          if (2 * x + dx >= size || 2 * y + dy >= size) continue;
          const from = (2 * y + dy) * size + 2 * x + dx;
          if (!isCovered[from]) continue;
          sum += texels[from]!;
          count++;
        }
      }
      if (count === 0) continue;
      coarse[y * half + x] = sum / count;
      isKnown[y * half + x] = 1;
    }
  }
  bleed({ size: half, texels: coarse, isCovered: isKnown });
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      if (!isCovered[y * size + x]) texels[y * size + x] = coarse[(y >> 1) * half + (x >> 1)]!;
    }
  }
}
