import type { Section } from '../../core/rig/index.ts';
import type { CharacterLooks, SectionLook } from '../wire/looks.ts';
import { api, type CharacterInfo } from './api.ts';
import { Store } from './store.ts';

export type { SectionLook } from '../wire/looks.ts';

/** Larger images are drawn at this size, px: finer is not seen, and fills the memory of a small machine. */
const LARGEST = 2048;

/** The looks that a character's files have: which materials, and their images when somebody draws them. */
export class LooksClient {
  readonly store = new Store<{ found: CharacterLooks | null; failure: string | null }>({
    found: null,
    failure: null,
  });
  readonly #info: Pick<CharacterInfo, 'id' | 'source'>;
  #isAsked = false;
  readonly #images = new Map<number, Promise<ImageBitmap>>();

  constructor(info: Pick<CharacterInfo, 'id' | 'source'>) {
    this.#info = info;
  }

  /** Asks for them, once: when the first picture stands, which does not wait for them. */
  load(): void {
    if (this.#isAsked) return;
    this.#isAsked = true;
    api.readLooks(this.#info.id).then(
      (found) => this.store.set({ found }),
      (error: Error) => this.store.set({ failure: error.message }),
    );
  }

  /** What is known of a section's looks; null without. A part that was cut off looks as what it was cut of. */
  find({ meshIndex, primitiveIndex, materialName, isSimMesh }: Section): SectionLook | null {
    if (isSimMesh) return null;
    return (
      this.store.state.found?.sections.find((look) =>
        look.meshIndex < 0
          ? look.materialName === materialName
          : look.meshIndex === meshIndex && look.primitiveIndex === primitiveIndex,
      ) ?? null
    );
  }

  /** An image, unpacked off the page's thread. @param index - Of the file. */
  readImage(index: number): Promise<ImageBitmap> {
    let image = this.#images.get(index);
    if (!image) {
      image = this.#read(index);
      this.#images.set(index, image);
      image.catch((error: Error) => this.store.set({ failure: error.message }));
    }
    return image;
  }

  async #read(index: number): Promise<ImageBitmap> {
    const blob = await api.readLookImage(this.#info.id, index, this.#info.source);
    const options: ImageBitmapOptions = { premultiplyAlpha: 'none', colorSpaceConversion: 'none' };
    const whole = await createImageBitmap(blob, options);
    const most = Math.max(whole.width, whole.height);
    if (most <= LARGEST) return whole;
    const resizeWidth = Math.max(1, Math.round((whole.width * LARGEST) / most));
    const resizeHeight = Math.max(1, Math.round((whole.height * LARGEST) / most));
    const small = await createImageBitmap(whole, {
      ...options,
      resizeWidth,
      resizeHeight,
      resizeQuality: 'high',
    });
    whole.close();
    return small;
  }
}
