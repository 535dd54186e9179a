import type { FrameLayout, PreviewRequest } from '../workers/preview-protocol.ts';
import type { PreviewClient, PreviewFrame } from './preview-client.ts';

/** One side of a preview that simulates several: its own garments in the common pose. */
export class SidePreview {
  readonly #client: PreviewClient;
  readonly #side: number;
  #whole: FrameLayout | null = null;
  #own: FrameLayout | null = null;

  constructor(client: PreviewClient, side: number) {
    this.#client = client;
    this.#side = side;
  }

  get store(): PreviewClient['store'] {
    return this.#client.store;
  }

  get travels(): PreviewClient['travels'] {
    return this.#client.travels;
  }

  get bodyIds(): PreviewClient['bodyIds'] {
    return this.#client.bodyIds;
  }

  send(request: PreviewRequest): void {
    this.#client.send(request);
  }

  readFrame(): PreviewFrame | null {
    const frame = this.#client.readFrame();
    if (!frame) return null;
    if (frame.layout !== this.#whole) {
      this.#whole = frame.layout;
      this.#own = {
        ...frame.layout,
        garments: frame.layout.garments.filter(({ side }) => side === this.#side),
      };
    }
    return { ...frame, layout: this.#own! };
  }
}
