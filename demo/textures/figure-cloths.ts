import { createFastBodyField, measureCovers } from '../figure/body-field.ts';
import type { Cover } from '../figure/figure-parts.ts';
import { smoothStep } from '../figure/mask-field.ts';
import type { SurfaceShade } from './bake-texture.ts';
import { createSolidNoise } from './solid-noise.ts';
import { stitchedLine } from './stitches.ts';

type Place = readonly [x: number, y: number, z: number];
type CoverShade = (place: Place) => number;

const TURN = 2 * Math.PI;

/** What the figure wears, in bind pose: weave, seams, buttons, laces, wear, an edge where covers meet, dark in the hollows. */
export function createFigureShade(): SurfaceShade {
  const covers = createCovers();
  const shadow = createShadow();
  return (position, normal) => {
    const place: Place = [Math.abs(position[0]!), position[1]!, position[2]!];
    const [own, other] = measureCovers(...place);
    return (
      covers[own.cover](place) * edge(own.cover, other.distance - own.distance) * shadow(position, normal)
    );
  };
}

/** A folded edge where one cover ends on another: a dark line, and stitches on the cloth beside it. */
function edge(cover: Cover, away: number): number {
  if (away < 0.0025) return 0.6;
  if (cover === 'skin') return away < 0.006 ? 0.85 : 1;
  return away > 0.0075 && away < 0.0095 ? 0.86 : 1;
}

/** Darker where the figure itself keeps the light away, as far as 4 cm out. */
function createShadow(): SurfaceShade {
  const field = createFastBodyField();
  return (position, normal) => {
    let hidden = 0;
    for (const [out, share] of [
      [0.01, 0.3],
      [0.025, 0.4],
    ] as const) {
      const at = position.map((value, k) => value + out * normal[k]!);
      hidden += share * smoothStep(0.85, 0.1, field(at[0]!, at[1]!, at[2]!) / out);
    }
    return 1 - hidden;
  };
}

function createCovers(): Record<Cover, CoverShade> {
  return {
    skin: createSkin(),
    shirt: createShirt(),
    trousers: createTrousers(),
    boots: createBoots(),
    belt: createBelt(),
  };
}

function createSkin(): CoverShade {
  const [broad, fine] = [
    createSolidNoise([0.02, 0.02, 0.02], 41),
    createSolidNoise([0.004, 0.004, 0.004], 42),
  ];
  return (place) => 0.9 + 0.07 * broad(...place) + 0.03 * fine(...place);
}

/** Linen: a placket with buttons, a yoke over the shoulders, seams down the sides, patches on the elbows. */
function createShirt(): CoverShade {
  const slubs = createSolidNoise([0.03, 0.004, 0.03], 43);
  const broad = createSolidNoise([0.07, 0.07, 0.07], 44);
  return ([x, y, z]) => {
    const weave = Math.sin((TURN * y) / 0.007) * Math.sin((TURN * (x + z)) / 0.007);
    let shade = 0.86 + 0.035 * weave + 0.08 * slubs(x, y, z) + 0.07 * broad(x, y, z);
    const isTrunk = x < 0.16 && y < 1.46;
    if (isTrunk && z > 0) {
      shade *= stitchedLine(x - 0.017, y, 0.005);
      const button = Math.hypot(x, ((((y - 0.02) / 0.075) % 1) - 0.5) * 0.075);
      if (button < 0.0065) shade *= button > 0.0048 ? 0.5 : 0.75;
    }
    if (isTrunk) shade *= stitchedLine(y - 1.405 + 0.05 * x, x, 0.005);
    if (isTrunk && x > 0.1 && y < 1.3) shade *= stitchedLine(z + 0.004, y, 0.005);
    const elbow = Math.hypot(x - 0.385, y - 1.205, 0.8 * (z + 0.065));
    if (elbow < 0.05) shade *= elbow > 0.047 ? 0.66 : elbow > 0.041 && elbow < 0.0435 ? 1.08 : 0.84;
    return shade;
  };
}

/** Wool twill: double seams down the legs, a pocket's mouth, patches on the knees that are rubbed light, mud above the boots. */
function createTrousers(): CoverShade {
  const [uneven, mud] = [
    createSolidNoise([0.012, 0.012, 0.012], 45),
    createSolidNoise([0.03, 0.02, 0.03], 46),
  ];
  return ([x, y, z]) => {
    const rib = Math.sin((TURN * (y + 0.8 * (x + z))) / 0.0085);
    let shade = 0.84 + 0.06 * rib + 0.1 * uneven(x, y, z);
    const axis = 0.1 + 0.02 * (0.9 - y);
    if (x > axis) shade *= stitchedLine(z - 0.002, y, 0.006) * stitchedLine(z + 0.008, y, 0.004);
    else if (y < 0.8) shade *= stitchedLine(z + 0.004, y, 0.004);
    if (y > 0.86 && y < 0.98 && z > 0) shade *= stitchedLine(x - 0.075 - 0.45 * (0.97 - y), y, 0.005);
    if (y > 0.83 && z > 0.02) shade *= stitchedLine(x - 0.002, y, 0.005);
    const knee = Math.max(Math.abs(x - 0.102) - 0.036, Math.abs(y - 0.53) - 0.058);
    if (z > 0.02 && knee < 0) shade *= knee > -0.004 ? 0.62 : knee > -0.0105 && knee < -0.0075 ? 1.1 : 0.94;
    if (z > 0.02) shade *= 1 + 0.16 * smoothStep(0.05, 0, Math.hypot(x - 0.102, 0.7 * (y - 0.525)));
    return shade * (1 - 0.25 * smoothStep(0.47, 0.36, y - 0.05 * mud(x, y, z)));
  };
}

/** Leather: laces up the front, a toe cap, a welt over the sole; scuffed at the toes, salt above the welt. */
function createBoots(): CoverShade {
  const grain = createSolidNoise([0.005, 0.005, 0.005], 47);
  const [broad, scuffs] = [
    createSolidNoise([0.04, 0.04, 0.04], 48),
    createSolidNoise([0.012, 0.012, 0.012], 49),
  ];
  return ([x, y, z]) => {
    if (y < 0.018) return 0.45 + 0.1 * grain(x, y, z);
    let shade = 0.72 + 0.12 * grain(x, y, z) + 0.14 * broad(x, y, z);
    shade *= stitchedLine(y - 0.027, z + x, 0.005);
    shade *= z > 0.04 ? stitchedLine(z - 0.096 + 1.2 * (x - 0.112) ** 2, x, 0.005) : 1;
    if (y > 0.09 && y < 0.3 && z > 0) shade *= lace(x - 0.106, y);
    if (z > 0.1) shade += 0.22 * scuffs(x, y, z) * smoothStep(0.1, 0.15, z);
    return shade + 0.12 * scuffs(x, y, z) * smoothStep(0.06, 0.035, y);
  };
}

/** Crossed from eyelet to eyelet over a tongue. 1 beside it. */
function lace(across: number, up: number): number {
  const step = 0.026;
  const away = Math.abs(across);
  if (away > 0.024) return 1;
  if (Math.abs(away - 0.0195) < 0.0035) {
    const eyelet = Math.hypot(away - 0.0195, (((up / step) % 1) - 0.5) * step);
    return eyelet < 0.0032 ? 0.4 : 0.9;
  }
  if (away > 0.0195) return 0.9;
  const height = ((up / step) % 1) - 0.5;
  const crossing = Math.min(Math.abs(height - across / 0.039), Math.abs(height + across / 0.039));
  return crossing < 0.11 ? 1.25 : 0.62;
}

/** A strap with edges, holes and a buckle. */
function createBelt(): CoverShade {
  const [grain, broad] = [
    createSolidNoise([0.005, 0.005, 0.005], 50),
    createSolidNoise([0.03, 0.03, 0.03], 51),
  ];
  return ([x, y, z]) => {
    let shade = 0.72 + 0.14 * grain(x, y, z) + 0.14 * broad(x, y, z);
    shade *= stitchedLine(y - 1.047, x + z, 0.0035) * stitchedLine(y - 1.019, x + z, 0.0035);
    if (z < 0.03) return shade;
    const frame = Math.max(Math.abs(x) - 0.024, Math.abs(y - 1.033) - 0.017);
    if (frame < 0 && frame > -0.006) return 1;
    if (x > 0.03 && x < 0.12 && Math.hypot((((x / 0.022) % 1) - 0.5) * 0.022, y - 1.033) < 0.0035)
      return 0.35;
    return shade;
  };
}
