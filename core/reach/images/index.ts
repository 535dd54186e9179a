export { drawLayout } from './draw-layout.ts';
export { type GreyImage, type ReadMapOptions, readMapImage } from './read-map-image.ts';
export { createUvMesh, UvError, type UvMesh } from './uv-mesh.ts';
export {
  findSeamPoints,
  IMAGE_SIZES,
  type MapImage,
  type MapImageOptions,
  writeMapImage,
} from './write-map-image.ts';
