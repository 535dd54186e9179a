import { createLeather, createOilskin, createPlainWeave, createTwill } from './cloths.ts';
import { paintTexture, type Shade } from './paint-texture.ts';

/** Pictures of the demo's cloths as PNG, by the name of the section that wears them. */
export function paintCloths(names: readonly string[]): Map<string, Uint8Array> {
  return new Map(names.flatMap((name) => (CLOTHS[name] ? [[name, paintTexture(CLOTHS[name]())]] : [])));
}

const CLOTHS: Readonly<Record<string, (() => Shade) | undefined>> = {
  Poncho: createOilskin,
  'Oilskin coat': createOilskin,
  'Sash tail': () => createTwill(14, 5),
  'Under-smock': () => createPlainWeave([120, 60], 4, 21),
  'Work apron': createLeather,
  'Neck scarf': () => createTwill(40, 1.4),
  'Tool roll': () => createPlainWeave([48, 48], 0, 31),
};
