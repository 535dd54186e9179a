import { PONCHO } from './poncho.ts';

/** Where a place of a sheet's grid, 0 to 1 around and down, lies in its UVs, and back. */
export interface SheetLayout {
  lay(around: number, down: number): [u: number, v: number];
  /** `down` is exactly what was laid. */
  find(u: number, v: number): [around: number, down: number];
}

/** Of sheets that would be stretched by more than a fifth if their grid filled the square. */
const LAYOUTS: Readonly<Record<string, SheetLayout | undefined>> = {
  Poncho: createFan(3.79, 0.23, PONCHO.rows),
  'Sash tail': createStrip(0.2, 1),
  'Under-smock': createStrip(0.7, 0.25),
  'Work apron': createStrip(0.9, 0.5),
  'Neck scarf': createStrip(0.8, 0.5),
};

const WHOLE = createStrip(1, 1);

/** As a section of a demo character is laid. */
export function findLayout(sectionName: string): SheetLayout {
  return LAYOUTS[sectionName] ?? WHOLE;
}

/** Lays UVs that fill the square. [n, 2] */
export function layUvs(sectionName: string, grid: Float32Array): Float32Array {
  return convert(grid, findLayout(sectionName).lay);
}

/** Takes them back. [n, 2] */
export function findGrid(sectionName: string, uvs: Float32Array): Float32Array {
  return convert(uvs, findLayout(sectionName).find);
}

function convert(places: Float32Array, change: (u: number, v: number) => [number, number]): Float32Array {
  const out = new Float32Array(places.length);
  for (let i = 0; i < out.length; i += 2) out.set(change(places[i]!, places[i + 1]!), i);
  return out;
}

/** @param tall - A power of two, so that nothing is lost by rounding. */
function createStrip(wide: number, tall: 1 | 0.5 | 0.25): SheetLayout {
  return {
    lay: (around, down) => [wide * around, tall * down],
    find: (u, v) => [u / wide, v / tall],
  };
}

/**
 * A sheet that widens like a cone, cut open and laid flat.
 *
 * @param angle - Of the fan, rad. @param neck - Radius of its upper edge over that of its lower. @param rows - Of the
 * grid, a power of two.
 */
function createFan(angle: number, neck: number, rows: number): SheetLayout {
  const outer = 0.485;
  const middle = [0.5, 0.02 + outer * Math.max(0, -Math.cos(angle / 2))] as const;
  return {
    lay: (around, down) => {
      const radius = outer * (neck + (1 - neck) * down);
      const turn = angle * (around - 0.5);
      return [middle[0] + radius * Math.sin(turn), middle[1] + radius * Math.cos(turn)];
    },
    find: (u, v) => {
      const [x, y] = [u - middle[0], v - middle[1]];
      const down = (Math.hypot(x, y) / outer - neck) / (1 - neck);
      const row = rows * down;
      const isOnRow = Math.abs(row - Math.round(row)) < 1e-4;
      return [Math.atan2(x, y) / angle + 0.5, isOnRow ? Math.round(row) / rows : down];
    },
  };
}
