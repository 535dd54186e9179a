import type { DistanceFunction } from '../figure/distance.ts';
import {
  evenOut,
  type Position,
  type Profile,
  pushOut,
  type Sheet,
  samplePolyline,
  toSheet,
} from './sheet.ts';

/** Lines from the neck to the hem seen from the side: outward from the spine, height. Metres. */
const FRONT: Profile = [
  [0.074, 1.468],
  [0.112, 1.44],
  [0.146, 1.38],
  [0.166, 1.3],
  [0.176, 1.2],
  [0.184, 1.08],
  [0.204, 0.93],
  [0.226, 0.78],
  [0.244, 0.64],
];
const BACK: Profile = [
  [0.088, 1.486],
  [0.126, 1.45],
  [0.152, 1.38],
  [0.166, 1.28],
  [0.17, 1.18],
  [0.178, 1.06],
  [0.196, 0.92],
  [0.218, 0.78],
  [0.236, 0.65],
];
/** Over the shoulder and down along the arm, which points 45° down in bind pose. */
const SIDE: Profile = [
  [0.084, 1.482],
  [0.125, 1.468],
  [0.172, 1.452],
  [0.222, 1.417],
  [0.276, 1.364],
  [0.33, 1.308],
  [0.384, 1.252],
  [0.436, 1.198],
  [0.482, 1.146],
];

export const PONCHO = { columns: 40, rows: 16, offset: 0.019 };

/**
 * The pilot's poncho: a rounded square of oilskin with a neck hole, long in front and behind, short over the arms,
 * pushed clear of the body and evened out.
 *
 * @param distance - Signed distance to the body.
 */
export function createPoncho(distance: DistanceFunction): Sheet {
  const { columns, rows, offset } = PONCHO;
  const grid = Array.from({ length: rows + 1 }, (_, row) =>
    Array.from({ length: columns }, (_, column) => placeAt(row / rows, (2 * Math.PI * column) / columns)),
  );
  for (let pass = 0; pass < 40; pass++) {
    evenOut(grid, 0.35);
    for (const line of grid) for (const p of line) pushOut(p, distance, offset);
  }
  return toSheet(grid);
}

function placeAt(s: number, angle: number): Position {
  const side = Math.abs(Math.sin(angle)) ** 1.5;
  const lengthwise = Math.cos(angle) >= 0 ? FRONT : BACK;
  const middle = samplePolyline(lengthwise, s);
  const shoulder = samplePolyline(SIDE, s);
  // Folds that open towards the hem, away from the centre lines.
  const fold = 1 + 0.045 * s * s * Math.sin(9 * angle + 0.6) * Math.abs(Math.sin(2 * angle));
  return [
    shoulder[0] * Math.sin(angle) * fold,
    middle[1] + side * (shoulder[1] - middle[1]),
    middle[0] * Math.cos(angle) * fold - 0.012,
  ];
}
