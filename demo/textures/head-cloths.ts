import { smoothStep } from '../figure/mask-field.ts';
import type { SurfaceShade } from './bake-texture.ts';
import { createSolidNoise } from './solid-noise.ts';
import { stitchedLine } from './stitches.ts';

/** Felt with a woven band, its brim stitched round in rows and rubbed along the edge. */
export function createHatShade(): SurfaceShade {
  const [nap, broad] = [
    createSolidNoise([0.006, 0.006, 0.006], 61),
    createSolidNoise([0.04, 0.04, 0.04], 62),
  ];
  return (position) => {
    const [x, y, z] = position as [number, number, number];
    const outward = Math.hypot(x, z + 0.012);
    const around = Math.atan2(x, z + 0.012);
    let shade = 0.74 + 0.14 * nap(x, y, z) + 0.14 * broad(x, y, z);
    const isBrim = outward > 0.125;
    if (!isBrim && y > 1.699 && y < 1.726) {
      const weave = Math.sin(100 * around) * Math.sin(900 * y);
      shade = 0.62 + 0.08 * weave;
      if (Math.abs(y - 1.7125) < 0.002) shade = 0.95;
    }
    if (isBrim) {
      for (const row of [0.15, 0.166, 0.182]) shade *= stitchedLine(outward - row, around * row, 0.003);
      shade += 0.2 * smoothStep(0.188, 0.196, outward) * nap(x, y, z);
    }
    return shade;
  };
}

/** Reed wood: fine grain along the face, tool marks across it, rubbed light on the ridge, dark inside. */
export function createMaskShade(): SurfaceShade {
  const grain = createSolidNoise([0.0016, 0.03, 0.004], 63);
  const [marks, broad] = [
    createSolidNoise([0.02, 0.005, 0.02], 64),
    createSolidNoise([0.03, 0.05, 0.03], 65),
  ];
  return (position, normal) => {
    const [x, y, z] = position as [number, number, number];
    const shade = 0.78 + 0.12 * grain(x, y, z) + 0.06 * marks(x, y, z) + 0.06 * broad(x, y, z);
    const rubbed = 0.1 * smoothStep(0.012, 0.003, Math.abs(x)) * smoothStep(0.105, 0.115, z);
    const isInside = normal[2]! < -0.2;
    return (shade + rubbed) * (isInside ? 0.55 : 1);
  };
}

/** Knitted: ribs that run to the rim, rows across them, felted in places. */
export function createHoodShade(): SurfaceShade {
  const [felted, fine] = [
    createSolidNoise([0.02, 0.02, 0.02], 66),
    createSolidNoise([0.004, 0.004, 0.004], 67),
  ];
  return (position) => {
    const [x, y, z] = position as [number, number, number];
    // Around an axis from ear to ear, so that the ribs run from nape to brow.
    const along = Math.atan2(z + 0.02, y - 1.64) * 0.11;
    const rib = Math.sin((2 * Math.PI * x) / 0.008);
    const row = Math.sin((2 * Math.PI * along) / 0.006 + (rib > 0 ? 0 : Math.PI));
    return 0.76 + 0.08 * rib + 0.05 * row + 0.08 * felted(x, y, z) + 0.06 * fine(x, y, z);
  };
}
