import { expect } from 'chai';
import { bakeScales, type Character, poseSection } from '../core/rig/index.ts';
import { hangBelowArmature } from '../core/rig/test-armature.ts';
import { type CharacterRun, type RunSetup, setUpRun, startRun } from '../core/run/index.ts';
import { type TrialFrame, TrialMeasure } from '../core/trials/index.ts';
import {
  createFerryPilot,
  createLamplighter,
  createLamplighterDocument,
  createPilotDocument,
} from './index.ts';
import { type Image, type Layer, lookAround, rasterise, type View } from './test-raster.ts';

/** What eyes all around see of a run: pixels in which what a garment covered lies over it. An independent measure of show-through. */
class Eyes {
  readonly #views: View[];
  readonly #run: CharacterRun;
  readonly #setup: RunSetup;
  /** Garments, as bits, that ever covered each triangle, by layer: the body's sections, then the garments. */
  readonly #coveredBy: Uint32Array[];

  constructor(run: CharacterRun, setup: RunSetup) {
    this.#run = run;
    this.#setup = setup;
    this.#views = lookAround([0, 1, 0], 1.1, 0.012);
    this.#coveredBy = this.#listLayers().map(({ triangles }) => new Uint32Array(triangles.length / 3));
  }

  /** Notes what garments cover now. */
  noteCovers(): void {
    for (const view of this.#views) {
      const images = this.#listLayers().map((layer) => rasterise(layer, view));
      images.forEach((under, layer) => {
        this.#forGarmentsOver(layer, (garment, at) => {
          const over = images[at]!;
          for (let p = 0; p < under.depths.length; p++) {
            const beneath = under.depths[p]! - over.depths[p]!;
            if (under.triangles[p]! < 0 || !(beneath > 0 && beneath < 0.06)) continue;
            this.#coveredBy[layer]![under.triangles[p]!]! |= 1 << garment;
          }
        });
      });
    }
  }

  /** Area of what lies over a garment that covered it, over all eyes, m²: in no unit of surface, but as it grows. */
  measure(): number {
    let count = 0;
    for (const view of this.#views) {
      const images = this.#listLayers().map((layer) => rasterise(layer, view));
      for (let p = 0; p < images[0]!.depths.length; p++) if (this.#isShown(images, p)) count++;
    }
    return (count * this.#views[0]!.pixel ** 2) / this.#views.length;
  }

  #isShown(images: readonly Image[], p: number): boolean {
    let front = 0;
    for (let layer = 1; layer < images.length; layer++) {
      if (images[layer]!.depths[p]! < images[front]!.depths[p]!) front = layer;
    }
    const triangle = images[front]!.triangles[p]!;
    if (triangle < 0) return false;
    let isShown = false;
    this.#forGarmentsOver(front, (garment, at) => {
      const behind = images[at]!.depths[p]! - images[front]!.depths[p]!;
      isShown ||= !!(this.#coveredBy[front]![triangle]! & (1 << garment)) && behind > 0 && behind < 0.04;
    });
    return isShown;
  }

  #listLayers(): Layer[] {
    const { character, pose, garments } = this.#run;
    return [
      ...this.#setup.bodySections.map((index) => ({
        positions: poseSection(character, index, pose),
        stride: 3,
        triangles: character.sections[index]!.triangles,
      })),
      ...garments.map(({ shown, setup }) => ({
        positions: shown,
        stride: 4,
        triangles: setup.compiled.triangles,
      })),
    ];
  }

  /** @param visit - With the garment's index, and its layer's. */
  #forGarmentsOver(layer: number, visit: (garment: number, layer: number) => void): void {
    const first = this.#setup.bodySections.length;
    const own = this.#run.garments[layer - first];
    this.#run.garments.forEach(({ beneath }, garment) => {
      if (!own || beneath.includes(own)) visit(garment, first + garment);
    });
  }
}

type TrialPair = Pick<TrialFrame, 'showThrough' | 'penetration'>;

describe('show-through of the demo characters', function () {
  this.timeout(240_000);

  let pilot: Character;

  before(async () => {
    pilot = await createFerryPilot();
  });

  it('and penetration are the same below a turned root that counts in centimetres', () => {
    const turn: [number, number, number, number] = [-Math.SQRT1_2, 0, 0, Math.SQRT1_2];
    const [ours, theirs] = [pilot, bakeScales(hangBelowArmature(pilot, 0.01, turn)).character].map(
      (character) => {
        const setup = setUpRun(createPilotDocument(character), character);
        const run = startRun(setup);
        const measure = new TrialMeasure(run, setup.bodySections);
        run.play(pilot.clips.findIndex(({ name }) => name === 'run'));
        return [0, 0.15, 0.3].map((time) => {
          run.seek(time);
          run.reset();
          const { showThrough, penetration } = measure.measure();
          return { showThrough, penetration };
        });
      },
    ) as [TrialPair[], TrialPair[]];
    ours.forEach(({ showThrough, penetration }, i) => {
      expect(penetration).above(0.01).and.closeTo(theirs[i]!.penetration, 1e-4);
      expect(showThrough).above(0.001).and.closeTo(theirs[i]!.showThrough, 1e-4);
    });
  });

  it('is what eyes around them see, on all clips', async () => {
    const lamplighter = await createLamplighter(pilot);
    const measured: number[] = [];
    const seen: number[] = [];
    const look = (character: Character, setup: RunSetup): void => {
      const run = startRun(setup);
      const measure = new TrialMeasure(run, setup.bodySections);
      const eyes = new Eyes(run, setup);
      eyes.noteCovers();
      for (let clip = 0; clip < character.clips.length; clip++) {
        run.play(clip);
        run.reset();
        for (let i = 0; i < 30; i++) run.step(0);
        measure.noteCovers();
        eyes.noteCovers();
        for (let i = 0; i < Math.min(60, Math.round(60 * run.duration)); i++) {
          run.step();
          const { showThrough } = measure.measure();
          if (i % 29 !== 0) continue;
          measured.push(showThrough);
          seen.push(eyes.measure());
        }
      }
    };
    const setup = setUpRun(createPilotDocument(pilot), pilot);
    look(pilot, setup);
    // With nothing that holds the cloth off there is more to see.
    look(pilot, { ...setup, garments: setup.garments.map((garment) => ({ ...garment, bodies: [] })) });
    look(lamplighter, setUpRun(createLamplighterDocument(lamplighter), lamplighter));
    expect(correlate(measured, seen)).above(0.9);
    expect(Math.max(...seen)).above(5e-4);
  });
});

function correlate(a: readonly number[], b: readonly number[]): number {
  const mean = (values: readonly number[]): number =>
    values.reduce((sum, value) => sum + value, 0) / values.length;
  const [p, q] = [mean(a), mean(b)];
  const product = (u: readonly number[], up: number, v: readonly number[], vp: number): number =>
    u.reduce((sum, value, i) => sum + (value - up) * (v[i]! - vp), 0);
  return product(a, p, b, q) / Math.sqrt(product(a, p, a, p) * product(b, q, b, q));
}
