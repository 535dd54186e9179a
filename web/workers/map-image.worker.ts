import { type ImageReply, type ImageRequest, MapImageLoop } from './map-image-loop.ts';

const loop = new MapImageLoop();
addEventListener('message', ({ data }: MessageEvent<{ token: number; request: ImageRequest }>) => {
  const reply: ImageReply = loop.take(data.request);
  postMessage({ token: data.token, reply }, { transfer: 'png' in reply ? [reply.png.buffer] : [] });
});
