import { cosine, cross, normalise, sine } from '../math/index.ts';
import { WAVE_COUNT } from './frame-numbers.ts';

export interface WindSettings {
  /** m/s */
  windSpeed: number;
  /** Where it blows to, degrees about the vertical: 0 is +Z, 90 is +X. */
  windDirection: number;
  /** How much the speed comes and goes: 0 steady, 1 from calm to double. */
  windGusts: number;
  /** Speed of the eddies over the mean speed, 0 to 1. */
  windTurbulence: number;
}

export const NO_WIND: Readonly<WindSettings> = {
  windSpeed: 0,
  windDirection: 0,
  windGusts: 0,
  windTurbulence: 0,
};

export interface Wind {
  /** Velocity of the whole air, m/s. */
  mean: [number, number, number];
  /** Eddies, see `FrameNumbers.waves`. */
  waves: Float32Array;
}

export const STILL_AIR: Readonly<Wind> = { mean: [0, 0, 0], waves: new Float32Array(8 * WAVE_COUNT) };

/** Cycles a second of the gusts, in no simple ratio, and how much each counts. */
const GUSTS = [
  [0.137, 0.5],
  [0.323, 0.3],
  [0.587, 0.2],
] as const;

/**
 * Eddies: unit direction of each wave, its length (m), and its share of the speed. Lengths go from a sleeve to a
 * doorway; directions are spread evenly, none along an axis.
 */
const EDDIES = [
  [0.61, 0.35, 0.711, 1.9, 0.3],
  [-0.702, 0.28, 0.655, 1.3, 0.25],
  [0.24, -0.51, 0.826, 0.9, 0.22],
  [0.86, 0.44, -0.259, 0.65, 0.17],
  [-0.37, 0.8, 0.472, 0.48, 0.13],
  [0.505, -0.77, -0.39, 0.35, 0.1],
] as const;

/**
 * The wind at a moment: a mean that gusts, and eddies that drift with it and turn over slowly.
 * The same moment gives the same wind on every machine.
 *
 * @param time - Seconds, from any start; of the simulation, not of the clip.
 */
export function computeWindAt(settings: WindSettings, time: number): Wind {
  const { windSpeed, windGusts, windTurbulence } = settings;
  const angle = (settings.windDirection * Math.PI) / 180;
  const direction = [sine(angle), 0, cosine(angle)] as const;
  let gust = 0;
  for (const [rate, weight] of GUSTS) gust += weight * sine(2 * Math.PI * ((rate * time) % 1));
  const speed = windSpeed * (1 + windGusts * gust);
  const waves = new Float32Array(8 * WAVE_COUNT);
  EDDIES.forEach(([x, y, z, length, share], w) => {
    const along = (x * direction[0] + z * direction[2]) * windSpeed;
    // Drifts with the mean speed, and turns over a third as fast again on its own.
    const drift = (along + 0.33 * windSpeed) * time;
    const phase = (w * 0.381966 - drift / length) % 1;
    const amplitude = windTurbulence * windSpeed * share;
    // Across the wave's own direction, so that the eddies neither press nor thin the air; every other one sideways
    // of the wind, the others along and up.
    const sideways = normalise(cross([x, y, z], direction));
    const side = w % 2 === 0 ? sideways : cross(sideways, [x, y, z]);
    waves.set(
      [
        x / length,
        y / length,
        z / length,
        phase,
        amplitude * side[0],
        amplitude * side[1],
        amplitude * side[2],
        0,
      ],
      8 * w,
    );
  });
  return { mean: [direction[0] * speed, 0, direction[2] * speed], waves };
}
