declare module 'draco3dgltf' {
  /** Opaque: only handed on to the reader and writer of glTF. */
  interface DracoModule {
    readonly isDraco?: never;
  }
  const draco: {
    createDecoderModule(options?: object): Promise<DracoModule>;
    createEncoderModule(options?: object): Promise<DracoModule>;
  };
  export default draco;
}
