import type { Character, Section } from '../../core/rig/index.ts';
import { findLayout } from '../garments/sheet-layouts.ts';
import { bakeTexture, type SurfaceShade } from './bake-texture.ts';
import { createLeather, createOilskin, createPlainWeave, createTwill } from './cloths.ts';
import { createFigureShade } from './figure-cloths.ts';
import { createHatShade, createHoodShade, createMaskShade } from './head-cloths.ts';
import { paintTexture, type Shade } from './paint-texture.ts';
import { unwrapSection } from './unwrap-section.ts';

/** Lays sections flat that have no UVs yet, and paints pictures of what they are made of. Pictures are PNGs, by material. */
export async function paintCharacter(
  character: Character,
): Promise<{ character: Character; pictures: Map<string, Uint8Array> }> {
  const sections: Section[] = [];
  const pictures = new Map<string, Uint8Array>();
  for (const bare of character.sections) {
    const baked = BAKED[bare.name];
    const section = baked && !bare.uvs ? await unwrapSection(bare) : bare;
    const cloth = CLOTHS[section.name];
    sections.push(section);
    if (baked) pictures.set(section.materialName, bakeTexture(section, baked.size, baked.shade()));
    if (cloth)
      pictures.set(
        section.materialName,
        paintTexture(LARGE.has(section.name) ? 1024 : 512, layShade(section.name, cloth())),
      );
  }
  return { character: { ...character, sections }, pictures };
}

/** Sheets whose UVs are metres across. */
const LARGE = new Set(['Poncho', 'Under-smock']);

/** What is no sheet is painted over its own UVs by where it stands. */
const BAKED: Readonly<Record<string, { size: number; shade: () => SurfaceShade } | undefined>> = {
  Body: { size: 1024, shade: createFigureShade },
  Hat: { size: 512, shade: createHatShade },
  Mask: { size: 512, shade: createMaskShade },
  Hood: { size: 512, shade: createHoodShade },
};

const CLOTHS: Readonly<Record<string, (() => Shade) | undefined>> = {
  Poncho: createOilskin,
  'Oilskin coat': createOilskin,
  'Sash tail': () => createTwill(14, 5),
  'Under-smock': () => createPlainWeave([120, 60], 4, 21),
  'Work apron': createLeather,
  'Neck scarf': () => createTwill(40, 1.4),
  'Tool roll': () => createPlainWeave([48, 48], 0, 31),
};

/** A shade of a sheet's grid over the UVs that it is laid in. */
function layShade(sectionName: string, shade: Shade): Shade {
  const { find } = findLayout(sectionName);
  return (u, v) => shade(...(find(u, v).map((share) => Math.max(0, Math.min(1, share))) as [number, number]));
}
