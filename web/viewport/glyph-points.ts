import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  DataTexture,
  DynamicDrawUsage,
  LinearFilter,
  LinearMipmapLinearFilter,
  Points,
  PointsMaterial,
  RGBAFormat,
  type Texture,
} from 'three';

/** What marks points: hollow squares are held, dots are picked, triangles and diamonds are the ends of a ramp. */
export type Glyph = 'square' | 'dot' | 'triangle' | 'diamond';

/** Over the surface, so that it does not hide them: share of the garment's size. */
const LIFT = 0.0013;
/** The same along the line of sight. */
const TOWARDS_EYE = 0.0065;

const SIZES: Readonly<Record<Glyph, number>> = { square: 6, dot: 6, triangle: 11, diamond: 11 };

/** Glyphs on some points of a garment, that move with it. */
export class GlyphPoints {
  readonly points: Points<BufferGeometry, PointsMaterial>;
  readonly #size: number;
  #shown: ArrayLike<number> = [];

  /** @param most - Points there can be. @param size - Of the garment from corner to corner, m. */
  constructor(glyph: Glyph, most: number, size: number) {
    this.#size = size;
    const geometry = new BufferGeometry();
    geometry.setAttribute(
      'position',
      new BufferAttribute(new Float32Array(3 * most), 3).setUsage(DynamicDrawUsage),
    );
    geometry.setDrawRange(0, 0);
    const material = new PointsMaterial({
      map: glyph === 'square' ? createHollowSquare() : drawGlyph(glyph),
      size: SIZES[glyph],
      sizeAttenuation: false,
      transparent: true,
      // Its hollow lets the map through; the others are cut out.
      alphaTest: glyph === 'square' ? 0.05 : 0.5,
      depthWrite: glyph !== 'square',
    });
    this.points = new Points(geometry, material);
    this.points.frustumCulled = false;
    this.points.visible = false;
    this.points.renderOrder = 4;
  }

  /** @param positions - [p, 3], of all points of the garment; `normals` likewise. */
  show(points: ArrayLike<number>): void {
    this.#shown = points;
    this.points.geometry.setDrawRange(0, points.length);
  }

  /**
   * Follows the garment. @param positions, normals - [p, 3].
   * @param eye - Brings the glyphs a little towards it, so that a slope does not hide half of one.
   */
  update(positions: Float32Array, normals: Float32Array, eye?: readonly [number, number, number]): void {
    if (!this.points.visible || this.#shown.length === 0) return;
    const attribute = this.points.geometry.attributes.position as BufferAttribute;
    const array = attribute.array as Float32Array;
    const [lift, towardsEye] = [LIFT * this.#size, TOWARDS_EYE * this.#size];
    for (let i = 0; i < this.#shown.length; i++) {
      const p = this.#shown[i]!;
      for (let k = 0; k < 3; k++) array[3 * i + k] = positions[3 * p + k]! + lift * normals[3 * p + k]!;
      if (!eye) continue;
      const [x, y, z] = [eye[0] - array[3 * i]!, eye[1] - array[3 * i + 1]!, eye[2] - array[3 * i + 2]!];
      const share = towardsEye / Math.sqrt(x * x + y * y + z * z);
      array[3 * i]! += share * x;
      array[3 * i + 1]! += share * y;
      array[3 * i + 2]! += share * z;
    }
    attribute.needsUpdate = true;
  }

  dispose(): void {
    this.points.removeFromParent();
    this.points.geometry.dispose();
    this.points.material.map?.dispose();
    this.points.material.dispose();
  }
}

/** Many times larger than drawn, so that all four sides are seen wherever it falls between picture elements. */
function createHollowSquare(): Texture {
  const size = 32;
  const rim = 6;
  const pixels = new Uint8Array(4 * size * size);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const isRim = Math.min(x, y, size - 1 - x, size - 1 - y) < rim;
      pixels.set([250, 246, 236, isRim ? 255 : 0], 4 * (y * size + x));
    }
  }
  const texture = new DataTexture(pixels, size, size, RGBAFormat);
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
}

const OUTLINES: Readonly<Record<'triangle' | 'diamond', readonly [number, number][]>> = {
  triangle: [
    [9, 2],
    [16, 15],
    [2, 15],
  ],
  diamond: [
    [9, 1],
    [17, 9],
    [9, 17],
    [1, 9],
  ],
};

function drawGlyph(glyph: Exclude<Glyph, 'square'>): CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 18;
  const context = canvas.getContext('2d')!;
  context.beginPath();
  if (glyph === 'dot') context.arc(9, 9, 7, 0, 2 * Math.PI);
  else {
    for (const [k, [x, y]] of OUTLINES[glyph].entries()) {
      if (k === 0) context.moveTo(x, y);
      else context.lineTo(x, y);
    }
    context.closePath();
  }
  context.lineJoin = 'round';
  context.lineWidth = 3;
  context.strokeStyle = '#FCFAF5';
  context.stroke();
  context.fillStyle = glyph === 'dot' ? '#13696A' : '#23262D';
  context.fill();
  return new CanvasTexture(canvas);
}
