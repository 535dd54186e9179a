import {
  ClampToEdgeWrapping,
  Color,
  type MeshLambertMaterial,
  MirroredRepeatWrapping,
  RepeatWrapping,
  SRGBColorSpace,
  Texture,
  type Wrapping,
} from 'three';
import type { Section } from '../../core/rig/index.ts';
import type { LooksClient, SectionLook } from '../state/looks-client.ts';

const CLAY = new Color('#B7AFA2');
const WRAPPINGS: Readonly<Record<SectionLook['wrap'][number], Wrapping>> = {
  repeat: RepeatWrapping,
  clamp: ClampToEdgeWrapping,
  mirror: MirroredRepeatWrapping,
};

/** Dresses materials in the looks of the character's files, or in plain clay. */
export class SectionLooks {
  readonly #looks: LooksClient | undefined;
  /** Null while the image is on its way. */
  readonly #textures = new Map<string, Texture | null>();
  readonly #onArrived: () => void;
  #isGone = false;

  /** @param onArrived - Told when an image is there: everything is to be dressed again. */
  constructor(looks: LooksClient | undefined, onArrived: () => void) {
    this.#looks = looks;
    this.#onArrived = onArrived;
  }

  dress(material: MeshLambertMaterial, section: Section, isClay: boolean): void {
    const look = isClay ? null : (this.#looks?.find(section) ?? null);
    const hasUvs = section.uvs !== null;
    const map = look && hasUvs ? this.#find(look.baseColor, look.wrap, true) : null;
    const normalMap = look && hasUvs ? this.#find(look.normal, look.wrap, false) : null;
    const vertexColors = !isClay && section.colors !== null;
    const alpha = look?.alpha ?? 'opaque';
    if (isClay) material.color.copy(CLAY);
    else
      material.color.setRGB(...(look?.color ?? (section.baseColor.slice(0, 3) as [number, number, number])));
    material.normalScale.setScalar(look?.normalScale ?? 1);
    material.userData.isMixed = alpha === 'blend';
    // Both sides of a piece at once: it stands in the order of the pieces.
    material.forceSinglePass = alpha === 'blend';
    const isSame =
      material.map === map &&
      material.normalMap === normalMap &&
      material.vertexColors === vertexColors &&
      material.userData.alpha === alpha;
    if (isSame) return;
    material.map = map;
    material.normalMap = normalMap;
    material.vertexColors = vertexColors;
    material.userData.alpha = alpha;
    // What is mixed leaves nothing behind where it cannot be seen: cards do not cut one another out by their empty parts.
    material.alphaTest = alpha === 'mask' ? look!.cutoff : alpha === 'blend' ? 0.02 : 0;
    material.needsUpdate = true;
  }

  dispose(): void {
    this.#isGone = true;
    for (const texture of this.#textures.values()) texture?.dispose();
    this.#textures.clear();
  }

  #find(image: number | null, wrap: SectionLook['wrap'], isColor: boolean): Texture | null {
    if (image === null) return null;
    const key = `${image} ${wrap.join(' ')} ${isColor}`;
    const known = this.#textures.get(key);
    if (known !== undefined) return known;
    this.#textures.set(key, null);
    this.#looks!.readImage(image).then(
      (bitmap) => {
        if (this.#isGone) return;
        this.#textures.set(key, createTexture(bitmap, wrap, isColor));
        this.#onArrived();
      },
      // Told by whoever reads the image; the section stays without it.
      () => {},
    );
    return null;
  }
}

function createTexture(bitmap: ImageBitmap, [u, v]: SectionLook['wrap'], isColor: boolean): Texture {
  const texture = new Texture(bitmap);
  texture.flipY = false;
  texture.wrapS = WRAPPINGS[u];
  texture.wrapT = WRAPPINGS[v];
  texture.anisotropy = 4;
  if (isColor) texture.colorSpace = SRGBColorSpace;
  texture.needsUpdate = true;
  return texture;
}
