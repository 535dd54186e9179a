import { buildPointNeighbours } from '../../core/mesh/index.ts';
import {
  type ChannelKind,
  compareValues,
  createUvMesh,
  drawLayout,
  type MapImage,
  type MapImageOptions,
  readMapImage,
  type SparseChange,
  UvError,
  writeMapImage,
} from '../../core/reach/index.ts';
import type { Section } from '../../core/rig/index.ts';
import {
  checkMapPng,
  type ImageChannel,
  type MapRange,
  PNG_HEAD_BYTES,
  packGrey,
  packMapPng,
  type ReadImage,
  readMapPng,
} from '../../formats/png/map-png.ts';

/** What an image needs of a section. */
export interface ImageMesh extends Pick<Section, 'name' | 'positions' | 'uvs' | 'triangles'> {
  /** Points that ride on others, [points]; null: none. */
  lining: Uint8Array | null;
}

export type ImageRequest =
  | {
      kind: 'write';
      mesh: ImageMesh;
      values: Float32Array;
      channel: ChannelKind;
      options: Omit<MapImageOptions, 'name'>;
    }
  | { kind: 'layout'; mesh: ImageMesh; size: number }
  /** Keeps the image, to be read as often as its settings change. */
  | { kind: 'open'; file: Blob; name: string }
  | {
      kind: 'read';
      mesh: ImageMesh;
      values: Float32Array;
      channel: ChannelKind;
      part: ImageChannel;
      low: number;
      high: number;
      soften: number;
      mask: Uint8Array | null;
    };

/** What an image says of itself. */
export interface OpenedImage extends Pick<ReadImage, 'width' | 'height' | 'depth' | 'channels'> {
  range: MapRange | null;
}

export type ImageReply =
  | ({ kind: 'written'; png: Uint8Array } & Pick<MapImage, 'worst' | 'cutOff'>)
  | { kind: 'drawn'; png: Uint8Array }
  | ({ kind: 'opened' } & OpenedImage)
  | { kind: 'read'; change: SparseChange }
  /** With the vertices that it is about, when it is about some. */
  | { kind: 'refused'; message: string; vertices: Uint32Array };

/** Writes maps as images and reads them; keeps the image that was opened last. */
export class MapImageLoop {
  #image: ReadImage | null = null;

  async take(request: ImageRequest): Promise<ImageReply> {
    try {
      return await this.#handle(request);
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      return {
        kind: 'refused',
        message,
        vertices: error instanceof UvError ? error.vertices : new Uint32Array(0),
      };
    }
  }

  async #handle(request: ImageRequest): Promise<ImageReply> {
    switch (request.kind) {
      case 'write': {
        const { mesh, values, channel, options } = request;
        const image = writeMapImage(createUvMesh(mesh, mesh.lining), values, { ...options, name: mesh.name });
        const { low, high } = options;
        const { worst, cutOff } = image;
        return { kind: 'written', png: packMapPng(image, { channel, low, high }), worst, cutOff };
      }
      case 'layout': {
        const { mesh, size } = request;
        const levels = drawLayout(createUvMesh(mesh, mesh.lining), size);
        return { kind: 'drawn', png: packGrey(size, 8, levels) };
      }
      case 'open': {
        this.#image = await readFile(request.file, request.name);
        const { width, height, depth, channels, range } = this.#image;
        return { kind: 'opened', width, height, depth, channels, range };
      }
      case 'read':
        return { kind: 'read', change: this.#read(request) };
    }
  }

  #read(request: Extract<ImageRequest, { kind: 'read' }>): SparseChange {
    const { mesh, values, channel, part, low, high, soften, mask } = request;
    if (!this.#image) throw new RangeError('No image is open: choose one first.');
    const neighbours = buildPointNeighbours(mesh);
    const options = { kind: channel, low, high, soften, mask };
    if (values.length !== neighbours.start.length - 1) return compareValues(values, values);
    return readMapImage(values, createUvMesh(mesh, mesh.lining), neighbours, this.#image.pick(part), options);
  }
}

/** The whole of a file only when its first bytes say that it can be read. */
async function readFile(file: Blob, name: string): Promise<ReadImage> {
  const read = async (part: Blob): Promise<Uint8Array> => new Uint8Array(await part.arrayBuffer());
  checkMapPng(await read(file.slice(0, PNG_HEAD_BYTES)), file.size, name);
  return readMapPng(await read(file), name);
}
