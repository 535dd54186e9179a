import { expose } from 'comlink';

interface LocalPort {
  postMessage(message: unknown, transfer?: Transferable[]): void;
  addEventListener(kind: 'message', handle: (event: MessageEvent) => void): void;
  removeEventListener(kind: 'message', handle: (event: MessageEvent) => void): void;
  start(): void;
  close(): void;
  unref?(): void;
}

/** A worker without a thread: messages cross as copies, one after the other, to an object that stands here. */
export class LocalWorker {
  static made = 0;
  onerror: unknown = null;
  readonly #ports: LocalPort[];

  constructor(api: object) {
    LocalWorker.made++;
    const { port1, port2 } = new MessageChannel() as unknown as { port1: LocalPort; port2: LocalPort };
    this.#ports = [port1, port2];
    expose(api, port1 as never);
    port2.start();
    // A port that listens would keep the tests from ending.
    for (const port of this.#ports) port.unref?.();
  }

  postMessage(message: unknown, transfer: Transferable[] = []): void {
    this.#ports[1]!.postMessage(message, transfer);
  }

  addEventListener(kind: 'message', handle: (event: MessageEvent) => void): void {
    this.#ports[1]!.addEventListener(kind, handle);
  }

  removeEventListener(kind: 'message', handle: (event: MessageEvent) => void): void {
    this.#ports[1]!.removeEventListener(kind, handle);
  }

  terminate(): void {
    for (const port of this.#ports) port.close();
  }
}

/** Puts local workers in the place of real ones. @param createApi - What a worker offers. @returns Puts those back. */
export function installLocalWorkers(createApi: () => object): () => void {
  const scope = globalThis as { Worker?: unknown };
  const original = scope.Worker;
  scope.Worker = class extends LocalWorker {
    constructor() {
      super(createApi());
    }
  };
  return () => {
    scope.Worker = original;
  };
}
