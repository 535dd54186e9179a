import {
  computeTriangleAreas,
  computeVertexNormals,
  fillSmoothly,
  type MatchOptions,
  matchSurface,
  numberPieces,
  type Surface,
} from '../../mesh/index.ts';

export interface TransferOptions extends Partial<MatchOptions> {
  onProgress?: (share: number) => void;
}

/** A place of the body counts for a point of the garment within these. Typical garments lie 0 to 3 cm off the skin. */
export const TRANSFER_DEFAULTS: MatchOptions = { maxDistance: 0.05, maxAngle: Math.PI / 6 };

export interface TransferOutcome {
  /** [n, width] */
  values: Float32Array;
  /** Points that took their values straight from the source. */
  matched: number;
  /** Points filled in from those around them. */
  filled: number;
  /** Points of pieces that lie nowhere near the source: they took the closest place, whatever its direction. */
  farOff: number;
}

/**
 * Carries values from one surface to another that lies over it. A point takes the value of the closest place of the
 * source if that is near and faces the same way; the rest is filled in smoothly over the target. So a leg never takes
 * from the other leg, and a loose skirt stays complete.
 *
 * @param target - Points that share a place must be one. @param values - [m, width] at the source's points.
 *
 * Reference: R. Abdrashitov, K. Raichstat, J. Monsen, D. Hill, *Robust skin weights transfer via weight inpainting*,
 * SIGGRAPH Asia 2023 Technical Communications.
 */
export function transferFields(
  target: Surface,
  source: Surface,
  values: Float32Array,
  width: number,
  options: TransferOptions = {},
): TransferOutcome {
  const { maxDistance, maxAngle, onProgress } = { ...TRANSFER_DEFAULTS, ...options };
  const count = target.positions.length / 3;
  const normalsOf = (surface: Surface): Float32Array =>
    computeVertexNormals(surface.positions, surface.triangles, new Float32Array(surface.positions.length));
  const [normals, sourceNormals] = [normalsOf(target), normalsOf(source)];
  const matches = matchSurface(target.positions, normals, source, sourceNormals, { maxDistance, maxAngle });
  const isKnown = Uint8Array.from(matches, ({ triangle }) => (triangle >= 0 ? 1 : 0));
  const lost = listPointsOfLostPieces(target, isKnown);
  const anything = { maxDistance: Number.POSITIVE_INFINITY, maxAngle: Math.PI };
  if (lost.length > 0) {
    const positions = Float32Array.from(
      lost.flatMap((p) => [...target.positions.subarray(3 * p, 3 * p + 3)]),
    );
    const any = new Float32Array(positions.length);
    matchSurface(positions, any, source, sourceNormals, anything).forEach((match, i) => {
      matches[lost[i]!] = match;
      isKnown[lost[i]!] = 1;
    });
  }
  const transferred = new Float32Array(count * width);
  matches.forEach(({ triangle, weights }, p) => {
    if (triangle < 0) return;
    for (let corner = 0; corner < 3; corner++) {
      const from = width * source.triangles[3 * triangle + corner]!;
      for (let k = 0; k < width; k++) {
        transferred[width * p + k] = transferred[width * p + k]! + weights[corner]! * values[from + k]!;
      }
    }
  });
  const known = isKnown.reduce((sum, one) => sum + one, 0);
  fillSmoothly(target, transferred, width, isKnown, onProgress);
  return { values: transferred, matched: known - lost.length, filled: count - known, farOff: lost.length };
}

/** Points of pieces of which no point is known: nothing could be filled in from. */
function listPointsOfLostPieces({ positions, triangles }: Surface, isKnown: Uint8Array): number[] {
  const pointCount = isKnown.length;
  const areas = computeTriangleAreas(positions, triangles);
  const { pieceOfFace, pieceAreas } = numberPieces({ faces: triangles, areas, pointCount });
  const isFound = new Uint8Array(pieceAreas.length);
  const pieceOfPoint = new Int32Array(pointCount).fill(-1);
  for (let i = 0; i < triangles.length; i++) {
    const piece = pieceOfFace[Math.floor(i / 3)]!;
    pieceOfPoint[triangles[i]!] = piece;
    if (isKnown[triangles[i]!]) isFound[piece] = 1;
  }
  return Array.from({ length: pointCount }, (_, p) => p).filter((p) => {
    const piece = pieceOfPoint[p]!;
    return !isKnown[p] && (piece < 0 || !isFound[piece]);
  });
}
