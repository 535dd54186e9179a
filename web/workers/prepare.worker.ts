import { PrepareLoop } from './prepare-loop.ts';
import type { PrepareRequest } from './prepare-protocol.ts';

const loop = new PrepareLoop((reply) => postMessage(reply));
addEventListener('message', ({ data }: MessageEvent<PrepareRequest>) => loop.take(data));
