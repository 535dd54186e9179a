import type { RecordId } from '../document/index.ts';
import { type MutableVector3, writeTriangleCross } from '../math/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';
import { type CharacterRun, FRAME_RATE, type RunSetup, startRun, sumTimes } from '../run/index.ts';
import { type ClothSurface, ClothSurfaces } from './cloth-surfaces.ts';
import { StretchMeasure } from './measure-stretch.ts';
import { PenetrationMeasure } from './penetration.ts';
import { RoundMemory } from './round-memory.ts';
import { type OnSkin, ShowThroughMeasure } from './show-through/show-through.ts';
import { EVERYWHERE, PosedSkin } from './skin/posed-skin.ts';

export interface TrialOptions {
  clip: number;
  clock?: () => number;
}

/** A place that a trial names: of which garment, its nearest welded vertex, and where it was, world space. */
export interface TrialPlace {
  garmentId: RecordId;
  point: WeldedIndex;
  position: [number, number, number];
}

/** What one frame of a trial measured, over all garments. */
export interface TrialFrame {
  /** Seconds into the clip. */
  time: number;
  /** What stands out of the cloth that covers it: area, m², by garment where there is any, and how far at most, m. See `ShowThroughMeasure`. */
  showThrough: number;
  showThroughOf: Readonly<Partial<Record<RecordId, number>>>;
  showThroughDepth: number;
  /** Where that is deepest; null when nothing stands out. */
  shown: Omit<TrialPlace, 'point'> | null;
  /** Deepest place of cloth inside the body, metres. */
  penetration: number;
  /** Where that is; null when nothing is inside. */
  deepest: TrialPlace | null;
  /** Strain that 99 % of the edge length stays below (0.04 = 4 % longer than at rest). */
  stretch: number;
  /** Root mean square distance of all simulated points from where they were a round before, m; null where the clip does not close. */
  scatter: number | null;
  /** Milliseconds that the frame took here, with what is drawn in the place of sim meshes, without measuring. */
  cost: number;
}

/** Seconds that the cloth gets to settle in the first pose before the clip plays. */
const SETTLE_SECONDS = 0.5;
/** A clip that closes is played unmeasured for at least so long, in whole rounds. */
const PLAYED_BEFORE_SECONDS = 2;

/**
 * Plays a clip once through a run of its own and yields what each frame measures. The cloth settles in the first pose; a clip
 * that closes is played unmeasured before, so that it is measured in its steady state.
 */
export function* runTrial(setup: RunSetup, { clip, clock }: TrialOptions): Generator<TrialFrame> {
  const run = startRun(setup, { clock });
  const measure = new TrialMeasure(run, setup.bodySections);
  run.play(clip);
  const isLoop = run.isClosed();
  run.reset();
  for (let i = 0; i < SETTLE_SECONDS * FRAME_RATE; i++) run.step(0);
  measure.noteCovers();
  const frameCount = Math.max(1, Math.round(run.duration * FRAME_RATE));
  const memory = new RoundMemory(run);
  const rounds = isLoop ? Math.ceil((PLAYED_BEFORE_SECONDS * FRAME_RATE) / frameCount) : 0;
  for (let round = 0; round < rounds; round++) {
    for (let frame = 0; frame < frameCount; frame++) {
      run.step();
      if (round + 1 === rounds) memory.note(frame);
    }
    // A whole number of frames seldom is a whole clip: each round starts at its beginning.
    run.seek(0);
  }
  run.takeTimes();
  for (let frame = 0; frame < frameCount; frame++) {
    run.step();
    const { total } = run.takeTimes();
    yield {
      time: run.time,
      ...measure.measure(),
      scatter: memory.measureScatter(frame),
      cost: sumTimes(total),
    };
  }
}

/** Measures a run as it stands, from frame to frame. */
export class TrialMeasure {
  readonly #run: CharacterRun;
  readonly #surfaces: ClothSurfaces;
  readonly #skin: PosedSkin;
  readonly #showThrough: ShowThroughMeasure;
  readonly #penetration: PenetrationMeasure;
  readonly #stretch: StretchMeasure;
  /** Area that a point of each surface stands for, m²; once it is asked for. */
  #pointAreas: ReadonlyMap<ClothSurface, number> | null = null;

  /** Goes to bind pose to see what covers what: the run is to be played or reset afterwards. */
  constructor(run: CharacterRun, bodySections: readonly number[]) {
    this.#run = run;
    this.#surfaces = new ClothSurfaces(run);
    this.#stretch = new StretchMeasure(run);
    this.#skin = new PosedSkin(run.character, bodySections);
    run.play(null);
    run.reset();
    this.#follow();
    this.#showThrough = new ShowThroughMeasure(run, this.#skin, this.#surfaces);
    this.#penetration = new PenetrationMeasure(this.#skin, this.#surfaces);
    this.#showThrough.noteCovers();
  }

  /** Notes what is covered now. */
  noteCovers(): void {
    this.#follow();
    this.#showThrough.noteCovers();
  }

  /** Points of the skin, as `onSkin` numbers them. */
  get skinPointCount(): number {
    return this.#skin.model.pointCount;
  }

  /** Places of all points of the skin in the run's pose, m. [n, 3] */
  gatherSkin(): Float32Array {
    this.#skin.follow(this.#run.pose, this.#run.skinMatrices, EVERYWHERE);
    return this.#skin.positions.slice();
  }

  /**
   * Measures the present frame.
   * @param onSkin - Told where what is measured lies: of each point of the skin that shows through, and of the nearest to each point of cloth
   * inside the body, with the area that it stands for, m², and how deep the fault is, m.
   */
  measure(onSkin?: OnSkin): Omit<TrialFrame, 'time' | 'scatter' | 'cost'> {
    this.#follow();
    const near = this.#penetration.followPoints();
    const shown = this.#showThrough.measure(near, onSkin);
    if (onSkin) {
      this.#pointAreas ??= new Map(
        this.#surfaces.surfaces.map((surface) => [surface, measurePointArea(surface)]),
      );
      const areas = this.#pointAreas;
      this.#penetration.visitInside((surface, skinPoint, depth) =>
        onSkin(skinPoint, areas.get(surface)!, depth),
      );
    }
    const inside = this.#penetration.measure(this.#showThrough.pierced);
    const { deepest } = inside;
    return {
      showThrough: shown.area,
      showThroughOf: this.#nameAreas(shown.areas),
      showThroughDepth: shown.depth,
      shown: shown.deepest && {
        garmentId: this.#run.garments[shown.deepest.garment]!.setup.id,
        position: shown.deepest.position,
      },
      penetration: inside.depth,
      deepest: deepest && {
        ...this.#surfaces.name(deepest.surface, deepest.point),
        position: deepest.position,
      },
      stretch: this.#stretch.measure(0.99),
    };
  }

  #nameAreas(areas: Float64Array): TrialFrame['showThroughOf'] {
    const named: Partial<Record<RecordId, number>> = {};
    areas.forEach((area, g) => {
      if (area > 0) named[this.#run.garments[g]!.setup.id] = area;
    });
    return named;
  }

  #follow(): void {
    this.#surfaces.update();
    this.#skin.follow(this.#run.pose, this.#run.skinMatrices, this.#surfaces.computeBoxes());
  }
}

/** Area that a point of cloth stands for on the mean, m². */
function measurePointArea({ positions, stride, points, triangles }: ClothSurface): number {
  const cross: MutableVector3 = [0, 0, 0];
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => stride * triangles[t + k]!);
    writeTriangleCross(positions, a!, b!, c!, cross);
    area += 0.5 * Math.sqrt(cross[0] ** 2 + cross[1] ** 2 + cross[2] ** 2);
  }
  return area / Math.max(1, points.length);
}
