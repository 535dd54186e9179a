import { type CharacterRun, SkinnedSection } from '../run/index.ts';
import { JITTER_DELAY, measureOffsets, weighCubic } from '../trials/index.ts';

/** A section that a garment draws, as a run is asked for it. */
interface Drawn {
  garment: number;
  /** Null: the garment's own. */
  render: number | null;
  skinned: SkinnedSection;
}

/**
 * How far the drawn vertices of garments shake from frame to frame beyond their skin, whatever they are simulated on: see `JitterMeasure`, here
 * for vertices that stay the same when levels do not.
 */
export class DrawnJitter {
  readonly #run: CharacterRun;
  readonly #frames: { time: number; offsets: Float32Array[] }[] = [];
  readonly #sections = new Map<number, SkinnedSection>();

  constructor(run: CharacterRun) {
    this.#run = run;
  }

  /** Notes where all stands, in a frame. @param time - Seconds since any start, rising. */
  note(time: number): void {
    this.#frames.push({ time, offsets: this.#listDrawn().map((drawn) => this.#measureOffsets(drawn)) });
    if (this.#frames.length > 2 * JITTER_DELAY + 1) this.#frames.shift();
  }

  /** m, over all drawn sections the most, of the frame before the last two; null before enough are known. */
  measure(): number | null {
    if (this.#frames.length <= 2 * JITTER_DELAY) return null;
    const weights = weighCubic(this.#frames.map(({ time }) => time));
    const means = this.#frames[0]!.offsets.map(
      (_, s) =>
        measureOffsets(
          this.#frames.map(({ offsets }) => offsets[s]!),
          weights,
        ).mean,
    );
    return Math.max(0, ...means);
  }

  /** In the order of garments and their sections, the same at every level. */
  #listDrawn(): Drawn[] {
    return this.#run.garments.flatMap(({ setup: { renders = [], compiled } }, garment): Drawn[] =>
      renders.length === 0
        ? [{ garment, render: null, skinned: this.#getSkinned(compiled.sectionIndex) }]
        : renders.map(({ sectionIndex }, render) => ({
            garment,
            render,
            skinned: this.#getSkinned(sectionIndex),
          })),
    );
  }

  #getSkinned(sectionIndex: number): SkinnedSection {
    let skinned = this.#sections.get(sectionIndex);
    if (!skinned) {
      skinned = new SkinnedSection(this.#run.character.sections[sectionIndex]!);
      this.#sections.set(sectionIndex, skinned);
    }
    return skinned;
  }

  #measureOffsets({ garment, render, skinned }: Drawn): Float32Array {
    const { section } = skinned;
    const { length } = section.positions;
    const [drawn, skin, normals] = [
      new Float32Array(length),
      new Float32Array(length),
      new Float32Array(length),
    ];
    if (render === null) this.#run.writeVertices(garment, drawn, normals);
    else this.#run.writeRender(garment, render, drawn, normals);
    const index = this.#run.character.sections.indexOf(section);
    const { pose, skinMatrices } = this.#run;
    skinned.write(skinMatrices[section.skin]!, pose.morphWeights[index]!, skin, normals);
    return drawn.map((value, i) => value - skin[i]!);
  }
}
