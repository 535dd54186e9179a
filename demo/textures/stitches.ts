/**
 * A seam: a dark line with a row of stitches on both sides. 1 beside it.
 *
 * @param distance - From the line. @param along - Along it. @param width - Of all of it on one side. All in metres.
 */
export function stitchedLine(distance: number, along: number, width: number): number {
  const away = Math.abs(distance);
  if (away < 0.22 * width) return 0.62;
  const isStitch = Math.abs(away - 0.7 * width) < 0.2 * width && (((along / 0.009) % 1) + 1) % 1 < 0.6;
  if (isStitch) return 1.1;
  return away < width ? 0.94 : 1;
}
