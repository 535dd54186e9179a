import { fitTop, LINING_FROM } from '../../core/reach/index.ts';
import { findSection } from '../../core/rig/index.ts';
import type {
  ImageMesh,
  ImageReply,
  ImageRequest,
  MapImageLoop,
  OpenedImage,
} from '../workers/map-image-loop.ts';
import type { Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';
import type { PaintedMap, ReachWork } from './reach-work.ts';
import { Store } from './store.ts';
import { WorkerCalls } from './worker-calls.ts';

/** Why an image could not be written or read, with the vertices that it is about. */
export class ImageRefused extends Error {
  override readonly name = 'ImageRefused';
  constructor(
    message: string,
    readonly vertices: Uint32Array,
  ) {
    super(message);
  }
}

export interface ImageSettings {
  size: number;
  depth: 8 | 16;
  /** In use from the panel: metres, shares or factors; null: fits the map. */
  high: number | null;
  low: number;
}

type ReplyOf<K extends ImageReply['kind']> = Extract<ImageReply, { kind: K }>;

/** Maps of the selected garment as images, written and read in a worker of its own. */
export class MapImageClient {
  readonly store = new Store<{ isBusy: boolean; opened: (OpenedImage & { file: string }) | null }>({
    isBusy: false,
    opened: null,
  });
  readonly #editor: Editor;
  readonly #reach: ReachWork;
  readonly #preparation: Pick<PreparationClient, 'findInnerSide'>;
  readonly #calls = new WorkerCalls<Pick<MapImageLoop, 'take'>>(
    () => new Worker(new URL('../workers/map-image.worker.ts', import.meta.url), { type: 'module' }),
  );
  /** Requests under way. */
  #asked = 0;

  constructor(editor: Editor, reach: ReachWork, preparation: Pick<PreparationClient, 'findInnerSide'>) {
    this.#editor = editor;
    this.#preparation = preparation;
    this.#reach = reach;
  }

  /** The map in use as PNG. @throws {ImageRefused} */
  async write({ size, depth, low, high }: ImageSettings): Promise<ReplyOf<'written'> & { high: number }> {
    const { values, kind, mesh } = await this.#require();
    const top = high ?? fitTop(kind, values);
    const options = { size, depth, low, high: top };
    const reply = await this.#ask({ kind: 'write', mesh, values, channel: kind, options }, 'written');
    return { ...reply, high: top };
  }

  /** The edges in UV space as PNG. @throws {ImageRefused} */
  async drawLayout(size: number): Promise<Uint8Array> {
    const { mesh } = await this.#require();
    return (await this.#ask({ kind: 'layout', mesh, size }, 'drawn')).png;
  }

  /** Opens an image, to be read with `read`. @throws {ImageRefused} */
  async open(file: File): Promise<OpenedImage> {
    const opened = await this.#ask({ kind: 'open', file, name: file.name }, 'opened');
    this.store.set({ opened: { ...opened, file: file.name } });
    return opened;
  }

  close(): void {
    this.store.set({ opened: null });
  }

  /** Takes the opened image over into the map in use, as one step. @throws {ImageRefused} @returns Points changed. */
  async read(
    settings: Pick<Extract<ImageRequest, { kind: 'read' }>, 'part' | 'low' | 'high' | 'soften'>,
  ): Promise<number> {
    const { values, kind, mesh, map } = await this.#require();
    const { mask } = this.#reach;
    const { revision } = this.#editor;
    const request = { kind: 'read', mesh, values, channel: kind, mask, ...settings } as const;
    const { change } = await this.#ask(request, 'read');
    // Painted on meanwhile: once more, from what is there now.
    if (this.#editor.revision !== revision) return this.read(settings);
    this.#editor.paint(`Take over ${this.store.state.opened?.file ?? 'image'}`, map.id, change);
    return change.indices.length;
  }

  dispose(): void {
    this.#calls.end();
  }

  async #require(): Promise<PaintedMap & { mesh: ImageMesh }> {
    const painted = this.#reach.ensure(this.#reach.channel);
    if (!painted) throw new ImageRefused('No garment is selected.', new Uint32Array(0));
    const { character } = this.#editor;
    const section = character.sections[findSection(character, painted.garment)]!;
    const { name, positions, uvs, triangles } = section;
    const own = this.#reach.find('lining');
    const found =
      !own && painted.garment.lining === 'inside'
        ? await this.#preparation.findInnerSide(painted.garment)
        : null;
    const lining = own ? Uint8Array.from(own.values, (value) => (value >= LINING_FROM ? 1 : 0)) : found;
    return { ...painted, mesh: { name, positions, uvs, triangles, lining } };
  }

  async #ask<K extends ImageReply['kind']>(request: ImageRequest, kind: K): Promise<ReplyOf<K>> {
    this.#asked++;
    this.store.set({ isBusy: true });
    try {
      const reply = await this.#calls.call((remote) => remote.take(request) as Promise<ImageReply>);
      if (reply.kind === 'refused') throw new ImageRefused(reply.message, reply.vertices);
      if (reply.kind !== kind) throw new Error(`The worker answered "${reply.kind}" in place of "${kind}".`);
      return reply as ReplyOf<K>;
    } finally {
      this.#asked--;
      this.store.set({ isBusy: this.#asked > 0 });
    }
  }
}
