import type { Scene } from 'three';
import { findChannel } from '../../core/document/index.ts';
import { CHANNELS, type ChannelKind } from '../../core/reach/index.ts';
import { describeLegend } from '../state/legend.ts';
import type { Colouring, GarmentMesh } from './garment-mesh.ts';
import { ReachOverlay } from './reach-overlay.ts';
import type { ViewportSource } from './viewport-source.ts';

/** What the viewport shows of reach: the map as colours, and what stands over the selected garment. */
export class ReachView {
  readonly #source: ViewportSource;
  readonly #scene: Scene;
  #overlay: ReachOverlay | null = null;

  constructor(source: ViewportSource, scene: Scene) {
    this.#source = source;
    this.#scene = scene;
  }

  /** Gives a garment the values that it is coloured and marked by. @returns How they are read. */
  colour(garment: GarmentMesh): Colouring {
    const { editor, session, reach } = this.#source;
    const { channel, garmentId } = session.state;
    const read = (kind: ChannelKind): Float32Array | null => {
      const map = findChannel(editor.document, garment.garmentId, kind);
      const values = map && editor.document.arrays.get(map.id);
      return values?.length === garment.pointCount ? values! : null;
    };
    const reaches = read('maxDistance');
    if (reaches) garment.setMaxDistances(reaches);
    if (!reach || garment.garmentId !== garmentId) return { legendTop: 1, isDifference: false, contours: [] };
    const { comparedId, showContours } = reach.store.state;
    const values = read(channel);
    const other = comparedId ? editor.document.arrays.get(comparedId) : undefined;
    const isDifference = values !== null && other?.length === values.length;
    garment.setShownValues(
      isDifference
        ? values.map((value, point) => other![point]! - value)
        : (values ?? CHANNELS[channel].defaultValue),
    );
    const legend = describeLegend(reach, values);
    return {
      legendTop: legend.top,
      isDifference,
      contours: showContours && !isDifference ? legend.contours : [],
    };
  }

  /** @param garment - The one that is worked on; null: nothing stands over any. */
  follow(garment: GarmentMesh | null): void {
    const { reach } = this.#source;
    const isVeiled =
      reach?.store.state.showInward &&
      (reach.channel === 'inwardLimit' || reach.channel === 'limitRoundness');
    const depths = isVeiled ? (reach.find('inwardLimit')?.values ?? null) : null;
    const hasSets = reach && Object.values(reach.store.state.sets).some((set) => set !== null);
    // Nothing to show: the mesh that it needs is not made before there is.
    const mesh = depths || hasSets ? reach?.reachMesh?.mesh : undefined;
    if (!reach || !garment || mesh?.pointCount !== garment.pointCount) {
      this.drop();
      return;
    }
    if (this.#overlay?.garment !== garment) {
      this.drop();
      this.#overlay = new ReachOverlay(garment, mesh.faces);
      this.#scene.add(this.#overlay.group);
    }
    this.#overlay.show(reach.store.state, depths);
  }

  /** Follows a frame. @param floats - Of the whole frame. */
  update(floats: Float32Array): void {
    this.#overlay?.update(floats);
  }

  drop(): void {
    this.#overlay?.dispose();
    this.#overlay = null;
  }
}
