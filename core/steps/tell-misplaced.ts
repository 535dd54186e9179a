import { type Bounds, boundPlaces, measureDiagonal } from '../math/index.ts';

/** Factors between units of length, and 1. */
const FACTORS = [0.001, 0.01, 0.0254, 0.1, 0.3048, 10, 39.37, 100, 1000];
/** A garment is between a ring and a cloak around a body: so much of its size, m/m. */
const [LEAST_SHARE, MOST_SHARE] = [0.02, 2];
const USUAL_SHARE = 0.5;

/** A wide garment stands off the body by no more than this share of the body's size, m/m. */
const MOST_APART = 0.2;

/**
 * Says why a garment of which nothing lies on the body does not: another unit, with the factor that would bring it to a likely
 * size, or another place; null for one that is worn wide, and is of a likely size where it is. Ours.
 *
 * @param garment, body - Places, [n, 3] metres.
 */
export function tellMisplaced(garment: Float32Array, body: Float32Array): string | null {
  const [ofGarment, ofBody] = [measureBox(garment), measureBox(body)];
  const share = ofGarment.size / ofBody.size;
  const size = `it is ${tellLength(ofGarment.size)} from corner to corner, the body ${tellLength(ofBody.size)}`;
  if (share < LEAST_SHARE || share > MOST_SHARE) {
    const off = (factor: number): number => Math.abs(Math.log((share * factor) / USUAL_SHARE));
    const factor = FACTORS.reduce((best, next) => (off(next) < off(best) ? next : best));
    return `nothing of it is near the body: ${size}. Scaled by ${factor} it would fit: it was made in another unit.`;
  }
  if (
    ofGarment.low.every(
      (low, k) =>
        low < ofBody.high[k]! + MOST_APART * ofBody.size &&
        ofGarment.high[k]! > ofBody.low[k]! - MOST_APART * ofBody.size,
    )
  )
    return null;
  const away = Math.sqrt(
    ofGarment.middle.reduce((sum, value, k) => sum + (value - ofBody.middle[k]!) ** 2, 0),
  );
  return `nothing of it is near the body: it lies ${tellLength(away)} away from its middle. Move it to where it is worn.`;
}

interface Box extends Bounds {
  size: number;
  middle: number[];
}

function measureBox(positions: Float32Array): Box {
  const box = boundPlaces(positions);
  const middle = box.low.map((value, k) => 0.5 * (value + box.high[k]!));
  return { ...box, size: measureDiagonal(box), middle };
}

function tellLength(metres: number): string {
  return metres < 0.1
    ? `${(1000 * metres).toPrecision(3)} mm`
    : `${Number(metres.toPrecision(3)).toLocaleString('en')} m`;
}
