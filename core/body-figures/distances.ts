/** Skin no farther outside of every body than this, m, is covered. */
export const COVERED = 0.005;
/** Skin deeper inside a body than this, m, is overhung: the body stands out of it by so much. */
export const OVERHUNG = 0.012;
/** Distances from bodies are told up to this, m. */
export const FARTHEST = 0.05;
