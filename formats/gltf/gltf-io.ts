import { Logger, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer';
import { OUR_EXTENSIONS } from './our-extensions.ts';

let io: Promise<WebIO> | null = null;
let dracoReady: Promise<void> | null = null;

export const DRACO_EXTENSION = 'KHR_draco_mesh_compression';

/** Makes the reader able to unpack Draco, once: few files need it, and it takes a moment. */
export function enableDraco(): Promise<void> {
  dracoReady ??= (async () => {
    const { default: draco } = await import('draco3dgltf');
    (await getGltfIo()).registerDependencies({ 'draco3d.decoder': await draco.createDecoderModule() });
  })();
  return dracoReady;
}

/** The reader and writer of glTF documents, made once. It touches neither files nor network. */
export function getGltfIo(): Promise<WebIO> {
  io ??= MeshoptDecoder.ready.then(() =>
    new WebIO()
      // What is wrong with a file is told in our own words, where it was asked.
      .setLogger(new Logger(Logger.Verbosity.SILENT))
      .registerExtensions([...ALL_EXTENSIONS, ...OUR_EXTENSIONS])
      .registerDependencies({ 'meshopt.decoder': MeshoptDecoder }),
  );
  return io;
}
