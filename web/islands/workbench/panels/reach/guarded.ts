/** A part of the image tab. */
export interface Guarded {
  /** Does something with an image; a refusal is told above. */
  guard(work: () => Promise<void>): Promise<void>;
}
