import type { Character, Pose } from '../rig/index.ts';
import type { GarmentRun } from './garment-run.ts';
import { SkinnedSection } from './skinned-section.ts';

/** A character in a pose. */
export interface Posed {
  character: Character;
  pose: Pose;
  /** Of every skin. */
  skinMatrices: readonly Float32Array[];
}

/** Writes the vertices of sections that garments draw: simulated, following a sim mesh, or on the skin. [vertices, 3] each. */
export class SectionDrawing {
  readonly #skinned = new Map<number, SkinnedSection>();

  /** A section as a garment draws it. */
  write(
    posed: Posed,
    garment: GarmentRun,
    sectionIndex: number,
    positions: Float32Array,
    normals: Float32Array,
  ): void {
    const { renders = [], blend } = garment.setup;
    const render = renders.findIndex((binding) => binding.sectionIndex === sectionIndex);
    if (render < 0) garment.writeVertices(positions, normals);
    else if (blend > 0) garment.writeRender(render, positions, normals);
    else this.#writeSkinned(posed, sectionIndex, positions, normals);
  }

  /** Goes over to what is written already from a section as another garment draws it, when it does. @param share - 0: all of that other one. */
  mixIn(
    posed: Posed,
    other: GarmentRun,
    sectionIndex: number,
    positions: Float32Array,
    normals: Float32Array,
    share: number,
  ): void {
    if (!drawsSection(other, sectionIndex)) return;
    const [x, n] = [new Float32Array(positions.length), new Float32Array(normals.length)];
    this.write(posed, other, sectionIndex, x, n);
    mixRows(positions, x, share);
    mixRows(normals, n, share);
    normaliseRows(normals);
  }

  /** What is not simulated is drawn by its own skin weights. */
  #writeSkinned(
    { character, pose, skinMatrices }: Posed,
    sectionIndex: number,
    positions: Float32Array,
    normals: Float32Array,
  ): void {
    const section = character.sections[sectionIndex]!;
    let skinned = this.#skinned.get(sectionIndex);
    if (skinned?.section !== section) {
      skinned = new SkinnedSection(section);
      this.#skinned.set(sectionIndex, skinned);
    }
    skinned.write(skinMatrices[section.skin]!, pose.morphWeights[sectionIndex]!, positions, normals);
  }
}

/** Whether a garment draws a section, itself or by one that follows it. */
function drawsSection({ setup: { renders = [], compiled } }: GarmentRun, sectionIndex: number): boolean {
  return renders.length === 0
    ? compiled.sectionIndex === sectionIndex
    : renders.some((render) => render.sectionIndex === sectionIndex);
}

/** Goes a share of the way from others to rows. */
function mixRows(rows: Float32Array, from: Float32Array, share: number): void {
  for (let i = 0; i < rows.length; i++) rows[i] = from[i]! + share * (rows[i]! - from[i]!);
}

function normaliseRows(rows: Float32Array): void {
  for (let o = 0; o < rows.length; o += 3) {
    const length = Math.sqrt(rows[o]! ** 2 + rows[o + 1]! ** 2 + rows[o + 2]! ** 2);
    if (length > 0) for (let k = o; k < o + 3; k++) rows[k] = rows[k]! / length;
  }
}
