import {
  type CharacterRun,
  type RunTimes,
  type RunWork,
  scaleTimes,
  setUpRun,
  startRun,
  sumTimes,
} from '../../run/index.ts';
import { createCalibrationCharacter } from './calibration-character.ts';
import { createCalibrationDocument } from './calibration-document.ts';
import type { GarmentSpec } from './garment-spec.ts';

/** How time is told while garments are timed. */
export interface TimingClock {
  /** Milliseconds that only ever rise. */
  now(): number;
  /** Milliseconds that this thread wanted to run and could not, since any start; null where that is not known. */
  waited(): number | null;
}

/** What one frame took. */
export interface FrameTime {
  times: RunTimes;
  /** ms in which the thread ran. */
  own: number;
}

/** Room for what is drawn of a garment: itself, or a section in its place. */
interface DrawnRoom {
  garment: number;
  render: number | null;
  positions: Float32Array;
  normals: Float32Array;
}

/** Plays the same frames of a generated garment, as often as wished. */
export class GarmentPlayer {
  readonly #run: CharacterRun;
  readonly #frames: number;
  readonly #clock: TimingClock;
  readonly #drawn: DrawnRoom[];

  constructor(spec: GarmentSpec, frames: number, clock: TimingClock) {
    const character = createCalibrationCharacter(spec);
    const document = createCalibrationDocument(spec, character);
    this.#run = startRun(setUpRun(document, character), { clock: () => clock.now() });
    this.#frames = frames;
    this.#clock = clock;
    this.#drawn = this.#run.garments.flatMap(({ setup }, garment) => {
      const room = (vertexCount: number, render: number | null): DrawnRoom => {
        const [positions, normals] = [new Float32Array(3 * vertexCount), new Float32Array(3 * vertexCount)];
        return { garment, render, positions, normals };
      };
      const renders = setup.renders ?? [];
      if (renders.length > 0) return renders.map(({ vertexCount }, r) => room(vertexCount, r));
      return [room(setup.compiled.pointOfVertex.length, null)];
    });
  }

  /** What each frame took, and what all of them did. */
  play(): { frames: FrameTime[]; work: RunWork } {
    const run = this.#run;
    run.play(0);
    run.reset();
    run.takeTimes();
    run.takeWork();
    const frames = Array.from({ length: this.#frames }, () => this.#playFrame());
    return { frames, work: run.takeWork() };
  }

  #playFrame(): FrameTime {
    const run = this.#run;
    const waited = this.#clock.waited();
    const start = this.#clock.now();
    run.step();
    for (const { garment, render, positions, normals } of this.#drawn) {
      if (render === null) run.writeVertices(garment, positions, normals);
      else run.writeRender(garment, render, positions, normals);
    }
    const took = this.#clock.now() - start;
    const since = this.#clock.waited();
    const share = waited === null || since === null ? 1 : Math.max(0, 1 - (since - waited) / took);
    const times = scaleTimes(run.takeTimes().total, share);
    return { times, own: sumTimes(times) };
  }
}
