import type { SourceFile } from '../source-file.ts';
import { type LookImage, type OpenLooks, sniffImage } from './looks.ts';
import { readGltfLooks } from './read-gltf-looks.ts';
import { readObjLooks } from './read-obj-looks.ts';

/**
 * What the files of a character look like, with their images as they are packed. Files that were read as a character before; those of
 * clips are passed over.
 * @throws {IntakeError} when the container of a file is damaged.
 */
export function openLooks(files: readonly SourceFile[]): OpenLooks {
  const own = files.filter(({ isClips }) => !isClips);
  const main = own.find(({ name }) => /\.(glb|gltf|obj)$/i.test(name)) ?? own[0];
  const others = own.filter((file) => file !== main);
  if (!main) return { looks: { sections: [], images: [], notes: [] }, getImage: () => null };
  const found = /\.obj$/i.test(main.name) ? readObjLooks(main, others) : readGltfLooks(main, others);
  const notes = [...found.notes];
  const images = found.images.map(({ name, bytes }): LookImage | null => {
    if (!bytes) {
      notes.push(`The image "${name}" did not come along.`);
      return null;
    }
    const type = sniffImage(bytes);
    if (!type) notes.push(`The image "${name}" is neither PNG, JPEG nor WebP, and is not shown.`);
    return type ? { type, bytes } : null;
  });
  const shown = (index: number | null): number | null => (index !== null && images[index] ? index : null);
  return {
    looks: {
      sections: found.sections.map((look) => ({
        ...look,
        baseColor: shown(look.baseColor),
        normal: shown(look.normal),
      })),
      images: images.flatMap((image, index) =>
        image
          ? [{ index, name: found.images[index]!.name, type: image.type, bytes: image.bytes.length }]
          : [],
      ),
      notes,
    },
    getImage: (index) => images[index] ?? null,
  };
}
