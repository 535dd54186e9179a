import { Group } from 'three';
import type { PickSlot, ReachState } from '../state/reach-work.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import { GlyphPoints } from './glyph-points.ts';
import { InwardVeil } from './inward-veil.ts';

/** What stands over the selected garment on the Reach stage: picked points, the ends of the ramp, the inward limit. */
export class ReachOverlay {
  readonly garment: GarmentMesh;
  readonly group = new Group();
  readonly #glyphs: Readonly<Record<PickSlot, GlyphPoints>>;
  readonly #veil: InwardVeil;
  #shown: ReachState['sets'] | null = null;

  /** @param faces - Over the points of the garment. */
  constructor(garment: GarmentMesh, faces: Uint32Array) {
    this.garment = garment;
    const { pointCount, size } = garment;
    this.#glyphs = {
      mask: new GlyphPoints('dot', pointCount, size),
      low: new GlyphPoints('triangle', pointCount, size),
      high: new GlyphPoints('diamond', pointCount, size),
    };
    this.#veil = new InwardVeil(faces, pointCount);
    this.group.add(...Object.values(this.#glyphs).map(({ points }) => points), this.#veil.group);
  }

  /** @param depths - Inward limits, m, [p]; null: not shown. */
  show({ sets, tab }: Pick<ReachState, 'sets' | 'tab'>, depths: Float32Array | null): void {
    if (sets !== this.#shown) {
      this.#shown = sets;
      for (const slot of Object.keys(this.#glyphs) as PickSlot[]) {
        const set = sets[slot];
        this.#glyphs[slot].show(set ? [...set.keys()].filter((point) => set[point]) : []);
      }
    }
    this.#glyphs.mask.points.visible = sets.mask !== null;
    for (const slot of ['low', 'high'] as const)
      this.#glyphs[slot].points.visible = tab === 'ramp' && sets[slot] !== null;
    this.#veil.show(depths);
    this.#follow();
  }

  /** Follows a frame. @param floats - Of the whole frame. */
  update(floats: Float32Array): void {
    this.#follow();
    this.#veil.update(this.garment.getTargets(floats));
  }

  #follow(): void {
    const { pointPositions, pointNormals } = this.garment;
    for (const glyphs of Object.values(this.#glyphs)) glyphs.update(pointPositions, pointNormals);
  }

  dispose(): void {
    this.group.removeFromParent();
    for (const glyphs of Object.values(this.#glyphs)) glyphs.dispose();
    this.#veil.dispose();
  }
}
