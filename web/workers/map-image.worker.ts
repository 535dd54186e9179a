import { expose, transfer } from 'comlink';
import { type ImageRequest, MapImageLoop } from './map-image-loop.ts';

const loop = new MapImageLoop();
expose({
  async take(request: ImageRequest) {
    const reply = await loop.take(request);
    return 'png' in reply ? transfer(reply, [reply.png.buffer]) : reply;
  },
});
