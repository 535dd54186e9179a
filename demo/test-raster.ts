/** Triangles seen along one direction, by depth: what an eye far away sees, in pixels. For tests only. */

export interface Layer {
  /** [n, stride] metres. */
  positions: Float32Array;
  stride: number;
  /** [t, 3] */
  triangles: Uint32Array;
}

export interface Image {
  width: number;
  height: number;
  /** Of each pixel: the nearest triangle that looks this way (-1: none), and how far along the view it is, m. */
  triangles: Int32Array;
  depths: Float32Array;
}

export interface View {
  /** Unit vectors: to the right, up, and away from the eye. */
  right: readonly [number, number, number];
  up: readonly [number, number, number];
  away: readonly [number, number, number];
  /** Middle of the picture, m, and half its side. */
  middle: readonly [number, number, number];
  half: number;
  /** Side of a pixel, m. */
  pixel: number;
}

/** Eyes around a figure, at the height of its middle, from above and from below. */
export function lookAround(middle: readonly [number, number, number], half: number, pixel: number): View[] {
  const views: View[] = [];
  for (const tilt of [-0.5, 0, 0.5]) {
    for (let k = 0; k < 8; k++) {
      const turn = (Math.PI * k) / 4 + 0.2;
      const [c, s, ct, st] = [Math.cos(turn), Math.sin(turn), Math.cos(tilt), Math.sin(tilt)];
      views.push({
        right: [c, 0, -s],
        up: [s * st, ct, c * st],
        away: [-s * ct, st, -c * ct],
        middle,
        half,
        pixel,
      });
    }
  }
  return views;
}

export function rasterise({ positions, stride, triangles }: Layer, view: View): Image {
  const side = Math.ceil((2 * view.half) / view.pixel);
  const image: Image = {
    width: side,
    height: side,
    triangles: new Int32Array(side * side).fill(-1),
    depths: new Float32Array(side * side).fill(Number.POSITIVE_INFINITY),
  };
  const count = positions.length / stride;
  const seen = new Float32Array(3 * count);
  for (let p = 0; p < count; p++) {
    const d = [0, 1, 2].map((k) => positions[stride * p + k]! - view.middle[k]!);
    [view.right, view.up, view.away].forEach((axis, k) => {
      const along = d[0]! * axis[0] + d[1]! * axis[1] + d[2]! * axis[2];
      seen[3 * p + k] = k === 2 ? along : (along + view.half) / view.pixel;
    });
  }
  for (let t = 0; t < triangles.length; t += 3) drawTriangle(image, seen, triangles, t);
  return image;
}

function drawTriangle(image: Image, seen: Float32Array, triangles: Uint32Array, t: number): void {
  const [a, b, c] = [3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!];
  const [ux, uy, uz] = [seen[b]! - seen[a]!, seen[b + 1]! - seen[a + 1]!, seen[b + 2]! - seen[a + 2]!];
  const [vx, vy, vz] = [seen[c]! - seen[a]!, seen[c + 1]! - seen[a + 1]!, seen[c + 2]! - seen[a + 2]!];
  const area = ux * vy - uy * vx;
  // Counter-clockwise from outside, so that what looks at the eye has a positive area.
  if (!(area > 0)) return;
  const x0 = Math.max(0, Math.ceil(seen[a]! + Math.min(0, ux, vx) - 0.5));
  const x1 = Math.min(image.width - 1, Math.floor(seen[a]! + Math.max(0, ux, vx) - 0.5));
  const y0 = Math.max(0, Math.ceil(seen[a + 1]! + Math.min(0, uy, vy) - 0.5));
  const y1 = Math.min(image.height - 1, Math.floor(seen[a + 1]! + Math.max(0, uy, vy) - 0.5));
  for (let y = y0; y <= y1; y++) {
    for (let x = x0; x <= x1; x++) {
      const [qx, qy] = [x + 0.5 - seen[a]!, y + 0.5 - seen[a + 1]!];
      const share = (qx * vy - qy * vx) / area;
      const other = (ux * qy - uy * qx) / area;
      if (share < 0 || other < 0 || share + other > 1) continue;
      const depth = seen[a + 2]! + share * uz + other * vz;
      const at = y * image.width + x;
      if (depth >= image.depths[at]!) continue;
      image.depths[at] = depth;
      image.triangles[at] = t / 3;
    }
  }
}
