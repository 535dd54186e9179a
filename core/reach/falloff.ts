export type Falloff = 'smooth' | 'linear' | 'flat' | 'sharp';

export const FALLOFFS: readonly Falloff[] = ['smooth', 'linear', 'sharp', 'flat'];

/** Weight of a brush at `t` = distance / radius: 1 in the middle, 0 at the rim and beyond (flat: 1 up to the rim). */
export function computeFalloff(falloff: Falloff, t: number): number {
  if (!(t < 1)) return 0;
  const u = 1 - Math.max(0, t);
  switch (falloff) {
    case 'flat':
      return 1;
    case 'linear':
      return u;
    case 'sharp':
      return u * u;
    case 'smooth':
      return u * u * (3 - 2 * u);
  }
}
