import { findCompanion } from '../companion.ts';
import { decodeText } from '../decode-text.ts';
import type { SourceFile } from '../source-file.ts';
import { type FoundLooks, PLAIN, type SectionLook } from './looks.ts';

/** Words of an MTL file that say how an image is placed, with how many numbers follow. */
const OPTIONS: Readonly<Record<string, number>> = {
  '-blendu': 1,
  '-blendv': 1,
  '-bm': 1,
  '-boost': 1,
  '-cc': 1,
  '-clamp': 1,
  '-imfchan': 1,
  '-mm': 2,
  '-o': 3,
  '-s': 3,
  '-t': 3,
  '-texres': 1,
  '-type': 1,
};

/** The looks of an OBJ file, from the MTL files that it names and that came along: colours, images and cut-outs by material. */
export function readObjLooks(main: SourceFile, others: readonly SourceFile[]): FoundLooks {
  const notes: string[] = [];
  const images: FoundLooks['images'] = [];
  const sections: SectionLook[] = [];
  const addImage = (path: string): number => {
    const known = images.findIndex(({ name }) => name === path);
    if (known >= 0) return known;
    return images.push({ name: path, bytes: findCompanion(others, path)?.bytes ?? null }) - 1;
  };
  const named = [...decodeText(main.bytes).matchAll(/^[ \t]*mtllib[ \t]+(.+?)[ \t]*\r?$/gm)].map(
    ([, name]) => name!,
  );
  for (const name of new Set(named)) {
    const file = findCompanion(others, name);
    if (file) sections.push(...readMaterials(decodeText(file.bytes), addImage));
    else notes.push(`The materials "${name}" did not come along.`);
  }
  return { sections, images, notes };
}

function readMaterials(text: string, addImage: (path: string) => number): SectionLook[] {
  const materials: SectionLook[] = [];
  for (const line of text.split(/\r\n|\r|\n/)) {
    const [word = '', rest = ''] = splitFirst(line.trim());
    if (word === 'newmtl') {
      materials.push({ ...PLAIN, meshIndex: -1, primitiveIndex: -1, materialName: rest });
      continue;
    }
    const material = materials.at(-1);
    if (!material) continue;
    if (word === 'Kd') material.color = readColor(rest) ?? material.color;
    else if (word === 'map_Kd') material.baseColor = addImage(readPath(rest));
    else if (word === 'norm') material.normal = addImage(readPath(rest));
    // Where the picture itself carries how opaque it is, this names it once more.
    else if (word === 'map_d') material.alpha = 'mask';
    else if (word === 'd' && Number(rest) < 1) material.alpha = 'blend';
  }
  return materials;
}

function splitFirst(line: string): [string, string] {
  const at = line.search(/\s/);
  return at < 0 ? [line, ''] : [line.slice(0, at), line.slice(at).trim()];
}

/** An sRGB colour in linear RGB; null when it is none. */
function readColor(text: string): [number, number, number] | null {
  const values = text.split(/\s+/).map(Number);
  if (values.length < 3 || !values.slice(0, 3).every((value) => value >= 0 && value <= 1)) return null;
  return values
    .slice(0, 3)
    .map((value) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4)) as [
    number,
    number,
    number,
  ];
}

/** The file behind the options of an image. */
function readPath(text: string): string {
  let rest = text;
  for (;;) {
    const [option, after] = splitFirst(rest);
    const most = OPTIONS[option];
    if (most === undefined) return rest;
    rest = after;
    for (let i = 0; i < most; i++) {
      const [value, further] = splitFirst(rest);
      // Offsets and scales may have fewer numbers than three.
      if (i > 0 && !Number.isFinite(Number(value))) break;
      rest = further;
    }
  }
}
