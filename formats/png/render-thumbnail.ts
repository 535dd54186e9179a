import { encode as encodePng } from 'fast-png';
import { computeVertexNormals } from '../../core/mesh/index.ts';
import { type Character, Pose, poseSection, type Section } from '../../core/rig/index.ts';
import type { BasePicture } from '../looks/read-base-pictures.ts';

export interface ThumbnailOptions {
  width: number;
  height: number;
  /** Degrees about the vertical: 0 looks at the front, 30 a little from the character's left. Default 28. */
  turn?: number;
  /** Index of the clip to show and the time, s. Without it the bind pose. */
  clip?: { index: number; time: number };
  /** Images of the sections' base colours; null where a section has none. */
  pictures?: readonly (BasePicture | null)[];
}

interface Triangle {
  /** Screen x, y in pixels and depth, for each corner. */
  corners: Float32Array;
  shade: Float32Array;
  /** UVs of each corner, and what is looked up there. */
  uvs: Float32Array;
  picture: BasePicture | null;
}

/** Picture elements a side are drawn this many times as fine, then averaged. */
const OVERSAMPLING = 3;

/**
 * A shaded picture of a character on nothing, as PNG bytes, drawn by the processor: no browser and no graphics card needed.
 * Orthographic, from a little above, lit from the upper left, framed to the whole character.
 */
export function renderThumbnail(character: Character, options: ThumbnailOptions): Uint8Array {
  const width = options.width * OVERSAMPLING;
  const height = options.height * OVERSAMPLING;
  const pose = new Pose(character);
  if (options.clip) pose.setClip(character.clips[options.clip.index]!, options.clip.time);
  else pose.setBind();
  const view = createView(options.turn ?? 28);
  const sections = character.sections.map((section, index) => {
    const positions = rotate(poseSection(character, index, pose), view);
    const normals = computeVertexNormals(positions, section.triangles, new Float32Array(positions.length));
    return { section, positions, normals, picture: options.pictures?.[index] ?? null };
  });
  const place = frame(
    sections.map(({ positions }) => positions),
    width,
    height,
  );
  const color = new Float32Array(3 * width * height).fill(-1);
  const depth = new Float32Array(width * height).fill(Number.NEGATIVE_INFINITY);
  for (const drawn of sections) {
    for (let i = 0; i < drawn.section.triangles.length; i += 3)
      drawTriangle(toTriangle(drawn, i, place), color, depth, width, height);
  }
  return encode(color, options.width, options.height);
}

/** Rows of the rotation into view space: x right, y up, z towards the eye. */
function createView(turn: number): number[] {
  const a = (-turn * Math.PI) / 180;
  const tilt = 0.12;
  const [c, s, ct, st] = [Math.cos(a), Math.sin(a), Math.cos(tilt), Math.sin(tilt)];
  return [c, 0, s, s * st, ct, -c * st, -s * ct, st, c * ct];
}

function rotate(positions: Float32Array, m: number[]): Float32Array {
  const out = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    for (let r = 0; r < 3; r++) {
      out[i + r] =
        m[3 * r]! * positions[i]! + m[3 * r + 1]! * positions[i + 1]! + m[3 * r + 2]! * positions[i + 2]!;
    }
  }
  return out;
}

function frame(
  lists: Float32Array[],
  width: number,
  height: number,
): { scale: number; x: number; y: number } {
  const low = [Infinity, Infinity];
  const high = [-Infinity, -Infinity];
  for (const positions of lists) {
    for (let i = 0; i < positions.length; i += 3) {
      for (let k = 0; k < 2; k++) {
        low[k] = Math.min(low[k]!, positions[i + k]!);
        high[k] = Math.max(high[k]!, positions[i + k]!);
      }
    }
  }
  const extent = [high[0]! - low[0]!, high[1]! - low[1]!];
  const scale = 0.9 * Math.min(width / Math.max(extent[0]!, 1e-6), height / Math.max(extent[1]!, 1e-6));
  return {
    scale,
    x: width / 2 - (scale * (low[0]! + high[0]!)) / 2,
    y: height / 2 + (scale * (low[1]! + high[1]!)) / 2,
  };
}

interface DrawnSection {
  section: Section;
  /** As the eye has them. */
  positions: Float32Array;
  normals: Float32Array;
  picture: BasePicture | null;
}

function toTriangle(
  { section, positions, normals, picture }: DrawnSection,
  first: number,
  place: { scale: number; x: number; y: number },
): Triangle {
  const corners = new Float32Array(9);
  const shade = new Float32Array(9);
  const uvs = new Float32Array(6);
  for (let k = 0; k < 3; k++) {
    const v = 3 * section.triangles[first + k]!;
    corners[3 * k] = place.x + place.scale * positions[v]!;
    corners[3 * k + 1] = place.y - place.scale * positions[v + 1]!;
    corners[3 * k + 2] = positions[v + 2]!;
    // Two lights and the sky; the far side of a sheet is lit as its near side.
    const side = normals[v + 2]! < 0 ? -1 : 1;
    const key = Math.max(0, side * (-0.45 * normals[v]! + 0.62 * normals[v + 1]! + 0.64 * normals[v + 2]!));
    const rim = Math.max(0, side * (0.8 * normals[v]! + 0.2 * normals[v + 1]! + 0.55 * normals[v + 2]!));
    const light = 0.34 + 0.75 * key + 0.18 * rim + 0.08 * side * normals[v + 1]!;
    for (let c = 0; c < 3; c++) {
      const base = section.baseColor[c]! * (section.colors ? section.colors[v + c]! : 1);
      shade[3 * k + c] = base * light;
    }
    if (picture) uvs.set(section.uvs!.subarray((2 * v) / 3, (2 * v) / 3 + 2), 2 * k);
  }
  return { corners, shade, uvs, picture };
}

function drawTriangle(
  { corners: p, shade, uvs, picture }: Triangle,
  color: Float32Array,
  depth: Float32Array,
  width: number,
  height: number,
): void {
  const [ax, ay, bx, by, cx, cy] = [p[0]!, p[1]!, p[3]!, p[4]!, p[6]!, p[7]!];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return;
  const left = Math.max(0, Math.ceil(Math.min(ax, bx, cx)));
  const right = Math.min(width - 1, Math.floor(Math.max(ax, bx, cx)));
  const top = Math.max(0, Math.ceil(Math.min(ay, by, cy)));
  const bottom = Math.min(height - 1, Math.floor(Math.max(ay, by, cy)));
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const wb = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area;
      const wc = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area;
      const wa = 1 - wb - wc;
      if (wa < 0 || wb < 0 || wc < 0) continue;
      const z = wa * p[2]! + wb * p[5]! + wc * p[8]!;
      const at = y * width + x;
      if (z <= depth[at]!) continue;
      const texel = picture
        ? findTexel(
            picture,
            wa * uvs[0]! + wb * uvs[2]! + wc * uvs[4]!,
            wa * uvs[1]! + wb * uvs[3]! + wc * uvs[5]!,
          )
        : 0;
      if (picture?.drawn && picture.drawn[texel] === 0) continue;
      depth[at] = z;
      for (let c = 0; c < 3; c++) {
        const lit = wa * shade[c]! + wb * shade[3 + c]! + wc * shade[6 + c]!;
        color[3 * at + c] = picture ? lit * picture.colors[c]![texel]! : lit;
      }
    }
  }
}

function findTexel({ width, height, wrap }: BasePicture, u: number, v: number): number {
  const x = Math.min(width - 1, Math.floor(width * wrapOnce(u, wrap[0])));
  const y = Math.min(height - 1, Math.floor(height * wrapOnce(v, wrap[1])));
  return y * width + x;
}

/** A coordinate between 0 and 1. */
function wrapOnce(value: number, wrap: BasePicture['wrap'][number]): number {
  if (wrap === 'clamp') return Math.min(1, Math.max(0, value));
  const whole = Math.floor(value);
  const part = value - whole;
  return wrap === 'mirror' && Math.abs(whole) % 2 === 1 ? 1 - part : part;
}

/** Averages the samples of each pixel; where the character does not cover it, it is that much transparent. */
function encode(color: Float32Array, width: number, height: number): Uint8Array {
  const data = new Uint8Array(4 * width * height);
  const row = width * OVERSAMPLING;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0];
      let covered = 0;
      for (let sample = 0; sample < OVERSAMPLING ** 2; sample++) {
        const sx = x * OVERSAMPLING + (sample % OVERSAMPLING);
        const at = 3 * ((y * OVERSAMPLING + Math.floor(sample / OVERSAMPLING)) * row + sx);
        if (color[at]! < 0) continue;
        covered++;
        for (let c = 0; c < 3; c++) sum[c] = sum[c]! + toSrgb(color[at + c]!);
      }
      const pixel = 4 * (y * width + x);
      for (let c = 0; c < 3; c++) data[pixel + c] = covered > 0 ? Math.round((255 * sum[c]!) / covered) : 0;
      data[pixel + 3] = Math.round((255 * covered) / OVERSAMPLING ** 2);
    }
  }
  return encodePng({ width, height, data, channels: 4, depth: 8 });
}

function toSrgb(linear: number): number {
  const v = Math.min(1, linear);
  return v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055;
}
