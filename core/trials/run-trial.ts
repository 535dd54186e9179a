import type { FrameHelpers } from '../cloth/index.ts';
import { type Pricing, priceWork, REFERENCE_PRICING } from '../cost/index.ts';
import type { RecordId } from '../document/index.ts';
import { type CharacterRun, type GarmentWork, type RunSetup, type RunWork, startRun } from '../run/index.ts';
import {
  BLEND_AFTER_SECONDS,
  BLEND_BEFORE_SECONDS,
  countFrames,
  getFrameSeconds,
  type TrialRate,
} from './frame-rate.ts';
import { JITTER_DELAY, JitterMeasure } from './jitter.ts';
import { RoundMemory } from './round-memory.ts';
import type { TrialMotion } from './trial-case.ts';
import { combineGarments, type GarmentFrame, type TrialFrame } from './trial-frame.ts';
import { TrialMeasure } from './trial-measure.ts';

export interface TrialOptions {
  motion: TrialMotion;
  rate?: TrialRate;
  clock?: () => number;
  /** What work is priced by; that of the reference machine when left out. */
  pricing?: Pricing;
  /** A clip that closes is looked at roughly, in up to 16 of its frames, in the first round that is played; what is measured is the same. */
  glances?: boolean;
  /** Threads that compute garments beside this one. */
  helpers?: FrameHelpers | undefined;
}

/** Of the first round, every so many frames are looked at, but in no more places than that: a look takes as long as three frames. */
const GLANCE_EVERY = 8;
const MOST_GLANCES = 16;

/** Seconds that the cloth gets to settle in the first pose before the clip plays. */
const SETTLE_SECONDS = 0.5;
/** A clip that closes is played unmeasured for at least so long, in whole rounds. */
const PLAYED_BEFORE_SECONDS = 2;

/**
 * Plays a clip once, or a blend, through a run of its own and yields what each frame measures, two frames late: jitter is told by the
 * frames around. The cloth settles in the first pose; a clip that closes is played unmeasured before, so that it is measured in its
 * steady state.
 */
export function* runTrial(
  setup: RunSetup,
  { motion, rate = 60, clock, pricing = REFERENCE_PRICING, glances = false, helpers }: TrialOptions,
): Generator<TrialFrame> {
  const run = startRun(setup, { clock, helpers });
  const measure = new TrialMeasure(run, setup.bodySections);
  const rough = glances ? new TrialMeasure(run, setup.bodySections) : null;
  const film = new TrialFilm(run, { measure, rough, pricing });
  if (motion.kind === 'clip') yield* playClip(run, { clip: motion.clip, rate, film });
  else yield* playBlend(run, { motion, rate, film });
  yield* film.end();
}

interface Play {
  rate: TrialRate;
  film: TrialFilm;
}

function* playClip(run: CharacterRun, { clip, rate, film }: Play & { clip: number }): Generator<TrialFrame> {
  run.play(clip);
  const isLoop = run.isClosed();
  run.reset();
  settle(run, rate, film);
  const frameCount = countFrames(rate, run.duration);
  const memory = new RoundMemory(run);
  const every = Math.max(GLANCE_EVERY, Math.ceil(frameCount / MOST_GLANCES));
  const rounds = isLoop ? Math.ceil(countFrames(rate, PLAYED_BEFORE_SECONDS) / frameCount) : 0;
  for (let round = 0; round < rounds; round++) {
    for (let frame = 0; frame < frameCount; frame++) {
      const seconds = getFrameSeconds(rate, frame);
      // The first ones have the end of what was before around them.
      const isGlance = round === 0 && frame % every === Math.floor(every / 2);
      if (isGlance) film.forget();
      run.step(1, seconds);
      if (round + 1 === rounds) memory.note(frame);
      if (isGlance) film.glance(run.time);
      film.pass(seconds);
      yield* film.takeGlances();
    }
    // A whole number of frames seldom is a whole clip: each round starts at its beginning.
    run.seek(0);
  }
  film.forget();
  for (let frame = 0; frame < frameCount; frame++) {
    const seconds = getFrameSeconds(rate, frame);
    run.step(1, seconds);
    yield* film.take(run.time, seconds, memory.measureScatter(frame));
  }
}

function* playBlend(
  run: CharacterRun,
  { motion, rate, film }: Play & { motion: Extract<TrialMotion, { kind: 'blend' }> },
): Generator<TrialFrame> {
  const { from, to, at, seconds: length } = motion;
  run.play(from);
  const start = Math.min(at, run.duration);
  const before = Math.min(start, BLEND_BEFORE_SECONDS);
  run.play(from, start - before);
  run.reset();
  settle(run, rate, film);
  film.forget();
  const frameCount = countFrames(rate, before + length + BLEND_AFTER_SECONDS);
  let time = 0;
  let hasBegun = false;
  for (let frame = 0; frame < frameCount; frame++) {
    const seconds = getFrameSeconds(rate, frame);
    if (!hasBegun && time >= before - 1e-9) {
      run.blendTo(to, length);
      hasBegun = true;
    }
    run.step(1, seconds);
    time += seconds;
    yield* film.take(time, seconds, null);
  }
}

function settle(run: CharacterRun, rate: TrialRate, film: TrialFilm): void {
  const frames = countFrames(rate, SETTLE_SECONDS);
  for (let frame = 0; frame < frames; frame++) {
    const seconds = getFrameSeconds(rate, frame);
    run.step(0, seconds);
    film.pass(seconds);
  }
  film.noteCovers();
}

/** Takes what is measured of a run frame by frame, and lets go of a frame when its jitter is known. */
class TrialFilm {
  readonly #run: CharacterRun;
  readonly #measure: TrialMeasure;
  readonly #jitter: JitterMeasure;
  readonly #waiting: TrialFrame[] = [];
  /** Measures what is looked at roughly; null when nothing is. */
  readonly #rough: TrialMeasure | null;
  readonly #pricing: Pricing;
  /** Frames that were looked at, and how many came after each. */
  readonly #glances: { frame: TrialFrame; after: number }[] = [];
  /** Collision bodies that each garment touched before it was measured. */
  readonly #touched = new Map<RecordId, Set<string>>();
  #clock = 0;

  constructor(
    run: CharacterRun,
    { measure, rough, pricing }: { measure: TrialMeasure; rough: TrialMeasure | null; pricing: Pricing },
  ) {
    this.#run = run;
    this.#measure = measure;
    this.#rough = rough;
    this.#pricing = pricing;
    this.#jitter = new JitterMeasure(run);
  }

  noteCovers(): void {
    this.#measure.noteCovers();
    this.#rough?.noteCovers();
  }

  /** What was timed and counted until now is of no frame; what was touched is kept. */
  forget(): void {
    this.#run.takeTimes();
    this.#noteTouched(this.#run.takeWork());
  }

  /** A frame that is not measured. */
  pass(seconds: number): void {
    this.#clock += seconds;
    this.#jitter.note(this.#clock);
  }

  /** A frame that is not measured, but looked at. */
  glance(time: number): void {
    if (!this.#rough) return;
    this.#rough.forget();
    const frame = this.#look(this.#rough, time, null);
    this.#noteTouched(frame.work);
    this.#glances.push({ frame: { ...frame, isGlance: true }, after: 0 });
  }

  /** Frames that were looked at, when their jitter is known. */
  *takeGlances(): Generator<TrialFrame> {
    for (const glance of this.#glances) glance.after++;
    if ((this.#glances[0]?.after ?? 0) > JITTER_DELAY) yield this.#finish(this.#glances.shift()!.frame);
  }

  /** A frame that is. @param scatter - Of each garment. */
  *take(time: number, seconds: number, scatter: readonly number[] | null): Generator<TrialFrame> {
    this.#waiting.push(this.#look(this.#measure, time, scatter));
    this.pass(seconds);
    if (this.#waiting.length > JITTER_DELAY) yield this.#finish(this.#waiting.shift()!);
  }

  /** What can be said of the present frame; of its jitter nothing yet. */
  #look(measure: TrialMeasure, time: number, scatter: readonly number[] | null): TrialFrame {
    const { total: times, garments: garmentTimes } = this.#run.takeTimes();
    const counted = this.#run.takeWork();
    const work = { ...counted, garments: counted.garments.map((garment) => this.#markTouched(garment)) };
    const price = priceWork(work, this.#pricing);
    const garments = measure.measure().garments.map((garment, g) => ({
      ...garment,
      scatter: scatter?.[g] ?? null,
      cost: price.garments[g]!.total,
    }));
    // Posing the joints belongs to no garment alone.
    const whole = { ...combineGarments(garments), cost: price.total };
    return { time, ...whole, garments, times, garmentTimes, work };
  }

  /** Keeps which bodies were touched in what is not measured. */
  #noteTouched({ garments }: RunWork): void {
    for (const { garmentId, bodies } of garments) {
      const touched = this.#touched.get(garmentId) ?? new Set();
      for (const body of bodies) if (body.id !== null && body.touched > 0) touched.add(body.id);
      this.#touched.set(garmentId, touched);
    }
  }

  #markTouched(garment: GarmentWork): GarmentWork {
    const touched = this.#touched.get(garment.garmentId);
    const bodies = garment.bodies.map((body) =>
      body.id !== null && touched?.has(body.id) ? { ...body, isTouchedBefore: true } : body,
    );
    return { ...garment, bodies };
  }

  /** The last frames, whose jitter stays unknown. */
  *end(): Generator<TrialFrame> {
    yield* this.#waiting.splice(0);
  }

  #finish(frame: TrialFrame): TrialFrame {
    const jitter = this.#jitter.measure();
    if (!jitter) return frame;
    const garments = frame.garments.map((garment, g): GarmentFrame => {
      const { mean, most, row, position } = jitter[g]!;
      const place = { ...this.#measure.placeRow(g, row, most), position };
      return { ...garment, jitter: mean, places: { ...garment.places, ...(mean > 0 && { jitter: place }) } };
    });
    return { ...frame, garments, jitter: Math.max(0, ...jitter.map(({ mean }) => mean)) };
  }
}
