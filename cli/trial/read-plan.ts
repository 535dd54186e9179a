import { type Character, listMorphNames } from '../../core/rig/index.ts';
import {
  createPlan,
  TRIAL_RATES,
  type TrialMotion,
  type TrialPlan,
  type TrialRate,
  type TrialWind,
} from '../../core/trials/index.ts';
import { findClips } from '../find-clips.ts';
import { UsageError } from '../usage-error.ts';

/** Options of the command line that say what is played. */
export interface PlanOptions {
  clip?: string[] | undefined;
  blend?: string[] | undefined;
  rate?: string[] | undefined;
  wind?: string[] | undefined;
  shape?: string[] | undefined;
  all?: boolean | undefined;
}

const WIND_WORDS: Readonly<Record<string, TrialWind>> = { set: 'asSet', still: 'still', strong: 'strong' };

/** Seconds that a blend may take. */
const LONGEST_BLEND = 10;

/** @throws {UsageError} For what the character does not have, or is none. */
export function readPlan(character: Character, options: PlanOptions): TrialPlan {
  const blends = options.blend?.map((text) => readBlend(character, text)) ?? [];
  // Blends alone are played alone.
  const clips =
    options.clip?.flatMap((name) => findClip(character, name)) ??
    (blends.length > 0 ? [] : findClips(character, undefined));
  const motions: TrialMotion[] = [...clips.map((clip): TrialMotion => ({ kind: 'clip', clip })), ...blends];
  if (options.all) {
    if (options.rate || options.wind || options.shape)
      throw new UsageError('--all has every rate, wind and shape: leave --rate, --wind and --shape out.');
    return { ...createPlan(character), motions };
  }
  return {
    motions,
    rates: options.rate?.map(readRate) ?? [],
    winds: options.wind?.map(readWind) ?? [],
    shapes: options.shape?.map((name) => readShape(character, name)) ?? [],
  };
}

/** A clip by its whole name, commas and all; else several, comma between. */
function findClip(character: Character, name: string): number[] {
  const index = character.clips.findIndex((clip) => clip.name === name);
  return index >= 0 ? [index] : findClips(character, name);
}

function readBlend(character: Character, text: string): TrialMotion {
  const [from = '', to = '', at = '', length = ''] = text.split(',');
  const [second, seconds] = [Number(at), Number(length)];
  const isBlend =
    from && to && at.trim() && length.trim() && second >= 0 && seconds > 0 && seconds <= LONGEST_BLEND;
  if (!isBlend)
    throw new UsageError(
      `--blend ${text}: it is FROM,TO,AT,LENGTH: two clips, at which second of the first, and in how many seconds, up to ${LONGEST_BLEND}.`,
    );
  const [first] = findClips(character, from) as [number];
  const [next] = findClips(character, to) as [number];
  const { name, duration } = character.clips[first]!;
  if (second > duration)
    throw new UsageError(`--blend ${text}: "${name}" is only ${duration.toFixed(2)} s long.`);
  return { kind: 'blend', from: first, to: next, at: second, seconds };
}

function readRate(text: string): TrialRate {
  const rate = TRIAL_RATES.find((known) => String(known) === text);
  if (!rate) throw new UsageError(`--rate ${text}: there are ${TRIAL_RATES.join(', ')}.`);
  return rate;
}

function readWind(text: string): TrialWind {
  const wind = Object.hasOwn(WIND_WORDS, text) ? WIND_WORDS[text] : undefined;
  if (!wind) throw new UsageError(`--wind ${text}: there are ${Object.keys(WIND_WORDS).join(', ')}.`);
  return wind;
}

function readShape(character: Character, name: string): string {
  const names = listMorphNames(character);
  if (names.includes(name)) return name;
  const known = names.length > 0 ? `there are ${names.join(', ')}` : 'the character has no morph targets';
  throw new UsageError(`--shape ${name}: ${known}.`);
}
