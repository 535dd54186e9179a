export { getGltfIo } from './gltf/gltf-io.ts';
export { writeCharacter } from './gltf/write-character.ts';
export { IntakeError, type IntakeErrorCode, type IntakeErrorData } from './intake-error.ts';
export type { Look, LookImage, Looks, SectionLook } from './looks/looks.ts';
export { openLooks } from './looks/open-looks.ts';
export { writeObj } from './obj/write-obj.ts';
export {
  checkMapPng,
  type ImageChannel,
  MAP_KEYWORD,
  type MapRange,
  PNG_HEAD_BYTES,
  packGrey,
  packMapPng,
  type ReadImage,
  readMapPng,
} from './png/map-png.ts';
export { type ReadCharacter, readCharacter } from './read-character.ts';
export {
  CLOTH_EXTENSION,
  CLOTH_SPEC_VERSION,
  type ClothExtension,
  type ShippedCrowd,
} from './shipment/cloth-extension.ts';
export { tellCrowd } from './shipment/tell-crowd.ts';
export { writeShipment } from './shipment/write-shipment.ts';
export { READ_LIMITS, type ReadLimits, type SourceFile } from './source-file.ts';
export { writeTargetKit } from './target-kit/write-target-kit.ts';
