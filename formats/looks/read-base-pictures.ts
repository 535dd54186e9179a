import type { Character, Section } from '../../core/rig/index.ts';
import { IntakeError } from '../intake-error.ts';
import { readMapPng } from '../png/map-png.ts';
import { PngFault, readPngSize } from '../png/open-png.ts';
import type { SourceFile } from '../source-file.ts';
import { findLook, type LookImage, type SectionLook } from './looks.ts';
import { openLooks } from './open-looks.ts';

/** The base colour image of a section, as it is drawn by the processor. */
export interface BasePicture {
  width: number;
  height: number;
  /** Linear red, green and blue, each [height, width]. */
  colors: readonly [Float32Array, Float32Array, Float32Array];
  /** Where nothing is drawn: 0. Null where all is. [height, width] */
  drawn: Uint8Array | null;
  wrap: SectionLook['wrap'];
}

/** Larger images take longer to unpack than a small picture is worth. */
const MOST_TEXELS = 2048 * 2048;

/** Base colour images of sections, where they are PNGs of a usual size; null where there is none. @param files - As the character was read from. */
export function readBasePictures(character: Character, files: readonly SourceFile[]): (BasePicture | null)[] {
  const { looks, getImage } = openLooks(files);
  const read = new Map<string, BasePicture | null>();
  return character.sections.map((section: Section) => {
    const look = section.uvs ? findLook(looks.sections, section) : null;
    if (!look || look.baseColor === null) return null;
    const key = `${look.baseColor} ${look.alpha} ${look.cutoff} ${look.wrap}`;
    const known = read.get(key);
    if (known !== undefined) return known;
    const picture = readPicture(getImage(look.baseColor), look);
    read.set(key, picture);
    return picture;
  });
}

function readPicture(image: LookImage | null, { alpha, cutoff, wrap }: SectionLook): BasePicture | null {
  if (image?.type !== 'image/png') return null;
  try {
    const [width, height] = readPngSize(image.bytes);
    if (width * height > MOST_TEXELS) return null;
    const png = readMapPng(image.bytes, 'image');
    const isGrey = !png.channels.includes('red');
    const pick = (channel: 'red' | 'green' | 'blue'): Float32Array =>
      png.pick(isGrey ? 'grey' : channel).levels.map(toLinear);
    const red = pick('red');
    const colors = isGrey ? ([red, red, red] as const) : ([red, pick('green'), pick('blue')] as const);
    const least = alpha === 'mask' ? cutoff : 0.5;
    const drawn =
      alpha === 'opaque' || !png.channels.includes('alpha')
        ? null
        : Uint8Array.from(png.pick('alpha').levels, (level) => (level >= least ? 1 : 0));
    return { width, height, colors, drawn, wrap };
  } catch (error) {
    // The picture of a character does without what the page may still show.
    if (error instanceof IntakeError || error instanceof PngFault) return null;
    throw error;
  }
}

function toLinear(level: number): number {
  return level <= 0.04045 ? level / 12.92 : ((level + 0.055) / 1.055) ** 2.4;
}
