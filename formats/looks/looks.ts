/** How a material lets what is behind it through: not at all, cut out by a threshold, or mixed with it. */
export type AlphaMode = 'opaque' | 'mask' | 'blend';
export type Wrap = 'repeat' | 'clamp' | 'mirror';

/** What is drawn of a section besides its shape and the colours of its vertices. Images by their number in the file. */
export interface Look {
  baseColor: number | null;
  /** Tangent-space normals, on the same coordinates as the base colour. */
  normal: number | null;
  /** How strongly the normals tilt. */
  normalScale: number;
  alpha: AlphaMode;
  /** Below it nothing is drawn, for `mask`. */
  cutoff: number;
  /** Across u and v. */
  wrap: readonly [Wrap, Wrap];
  /** Linear RGB where the section has no colour of its own: of an OBJ; null: as the section says. */
  color: readonly [number, number, number] | null;
}

/** Of one section: found by its place in a glTF file, or by its material in an OBJ. */
export interface SectionLook extends Look {
  meshIndex: number;
  primitiveIndex: number;
  /** Used where `meshIndex` is -1. */
  materialName: string;
}

/** What the files of a character look like. */
export interface Looks {
  sections: SectionLook[];
  /** Images that a browser can show; the others are named in `notes`. */
  images: { index: number; name: string; type: string; bytes: number }[];
  /** What of the looks cannot be shown, in sentences. */
  notes: string[];
}

export interface LookImage {
  type: string;
  bytes: Uint8Array;
}

export interface OpenLooks {
  looks: Looks;
  /** @returns Null when there is no such image, or none that a browser shows. */
  getImage(index: number): LookImage | null;
}

/** Looks as a reader finds them: images still of any kind. */
export interface FoundLooks extends Pick<Looks, 'sections' | 'notes'> {
  images: { name: string; bytes: Uint8Array | null }[];
}

export const PLAIN: Look = {
  baseColor: null,
  normal: null,
  normalScale: 1,
  alpha: 'opaque',
  cutoff: 0.5,
  wrap: ['repeat', 'repeat'],
  color: null,
};

/** What is known of a section; null when nothing is. */
export function findLook(
  looks: readonly SectionLook[],
  {
    meshIndex,
    primitiveIndex,
    materialName,
  }: Pick<SectionLook, 'meshIndex' | 'primitiveIndex' | 'materialName'>,
): SectionLook | null {
  return (
    looks.find((look) =>
      look.meshIndex < 0
        ? look.materialName === materialName
        : look.meshIndex === meshIndex && look.primitiveIndex === primitiveIndex,
    ) ?? null
  );
}

/** What kind of image some bytes are, by how they begin; null when no browser shows it. */
export function sniffImage(bytes: Uint8Array): string | null {
  const begins = (at: number, ...wanted: number[]): boolean =>
    wanted.every((byte, i) => bytes[at + i] === byte);
  if (begins(0, 0x89, 0x50, 0x4e, 0x47)) return 'image/png';
  if (begins(0, 0xff, 0xd8, 0xff)) return 'image/jpeg';
  if (begins(0, 0x52, 0x49, 0x46, 0x46) && begins(8, 0x57, 0x45, 0x42, 0x50)) return 'image/webp';
  return null;
}
