import { type FrameMessage, FrameServer } from '../../core/cloth/index.ts';

/** Computes frames of cloth beside the worker that started it. */
const server = new FrameServer(() => performance.now());
addEventListener('message', ({ data }: MessageEvent<FrameMessage>) => server.handle(data));
