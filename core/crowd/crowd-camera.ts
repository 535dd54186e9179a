/** How characters are looked at. */
export interface CrowdCamera {
  /** Of the picture from its upper to its lower edge, rad. */
  fieldOfView: number;
  /** Of the target's picture, px. */
  screenHeight: number;
}

/** A usual game camera on a usual screen. */
export const CAMERA_DEFAULTS: CrowdCamera = { fieldOfView: (50 * Math.PI) / 180, screenHeight: 1080 };

/** What cameras may be: rad and px. */
export const CAMERA_RANGES = {
  fieldOfView: [Math.PI / 36, (170 * Math.PI) / 180],
  screenHeight: [120, 8192],
} as const;

/** How high a character is on the screen, px: of one in the middle of a picture without distortion. @param height, distance - m. */
export function pixelsAt(
  { fieldOfView, screenHeight }: CrowdCamera,
  height: number,
  distance: number,
): number {
  return (screenHeight * height) / (2 * distance * Math.tan(fieldOfView / 2));
}

/** How far a character is that is so many pixels high, m; Infinity for none. @param height - m. */
export function distanceAt(
  { fieldOfView, screenHeight }: CrowdCamera,
  height: number,
  pixels: number,
): number {
  return (screenHeight * height) / (2 * pixels * Math.tan(fieldOfView / 2));
}
