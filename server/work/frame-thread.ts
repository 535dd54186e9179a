import { parentPort } from 'node:worker_threads';
import { type FrameMessage, FrameServer } from '../../core/cloth/index.ts';

/** Entry of the threads that compute frames of cloth for another. */
const server = new FrameServer(() => performance.now());
parentPort!.on('message', (message: FrameMessage) => server.handle(message));
