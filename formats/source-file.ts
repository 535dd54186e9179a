/** One file as it was dropped: its name (never used as a path) and its bytes. */
export interface SourceFile {
  name: string;
  bytes: Uint8Array;
  /** Only its clips are taken, onto the joints of the character that the other files make. */
  isClips?: boolean;
  /**
   * Vertices that lie together but for rounding stay apart, as in files that were brought in before they were joined: what
   * was painted on them counts by their points.
   */
  keepsSeams?: boolean;
}

/** Bounds that keep a hostile file from taking the machine; far above what a character needs. */
export interface ReadLimits {
  /** All files together. Default 512 MiB. */
  bytes: number;
  /** Vertices of all sections together. Default 4 million. */
  vertices: number;
  /** Numbers that all accessors together may unpack to. Default 200 million. */
  values: number;
}

export const READ_LIMITS: Readonly<ReadLimits> = {
  bytes: 512 * 1024 * 1024,
  vertices: 4_000_000,
  values: 200_000_000,
};
