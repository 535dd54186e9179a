import { type MutableVector3, writeTriangleCross } from '../math/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';
import { BodyContacts, type CharacterRun } from '../run/index.ts';
import { type ClothSurface, ClothSurfaces } from './cloth-surfaces.ts';
import { type Stretch, StretchMeasure } from './measure-stretch.ts';
import { type Penetration, PenetrationMeasure } from './penetration.ts';
import { type OnSkin, type Shown, ShowThroughMeasure } from './show-through/show-through.ts';
import { EVERYWHERE, PosedSkin } from './skin/posed-skin.ts';
import { combineGarments, type GarmentFrame, type MeasuredValues, type TrialPlace } from './trial-frame.ts';

/** What can be measured of a run as it stands, without what came before: of each garment, and the whole. */
export interface StandingMeasures extends MeasuredValues {
  garments: GarmentFrame[];
}

/** Measures a run as it stands, from frame to frame. */
export class TrialMeasure {
  readonly #run: CharacterRun;
  readonly #surfaces: ClothSurfaces;
  readonly #skin: PosedSkin;
  readonly #showThrough: ShowThroughMeasure;
  readonly #penetration: PenetrationMeasure;
  readonly #stretch: StretchMeasure;
  readonly #contacts = new BodyContacts();
  /** Area that a point of each surface stands for, m². */
  readonly #pointAreas: ReadonlyMap<ClothSurface, number>;

  /** Goes to bind pose to see what covers what: the run is to be played or reset afterwards. */
  constructor(run: CharacterRun, bodySections: readonly number[]) {
    this.#run = run;
    this.#surfaces = new ClothSurfaces(run);
    this.#stretch = new StretchMeasure(run);
    this.#skin = new PosedSkin(run.character, bodySections);
    run.play(null);
    run.reset();
    this.#follow();
    this.#pointAreas = new Map(
      this.#surfaces.surfaces.map((surface) => [surface, measurePointArea(surface)]),
    );
    this.#showThrough = new ShowThroughMeasure(run, this.#skin, this.#surfaces);
    this.#penetration = new PenetrationMeasure(this.#skin, this.#surfaces);
    this.#showThrough.noteCovers();
  }

  /** What is measured next is not the next frame. */
  forget(): void {
    this.#penetration.forget();
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
   * Measures the present frame: all but jitter and scatter, which are null, and cost, which is 0.
   * @param onSkin - Told where what is measured lies: of each point of the skin that shows through, and of the nearest to each point of cloth
   * inside the body, with the area that it stands for, m², and how deep the fault is, m.
   */
  measure(onSkin?: OnSkin): StandingMeasures {
    this.#follow();
    const near = this.#penetration.followPoints();
    const shown = this.#showThrough.measure(near, onSkin);
    const insideAreas = new Float64Array(this.#run.garments.length);
    this.#penetration.visitInside((surface, skinPoint, depth) => {
      const area = this.#pointAreas.get(surface)!;
      insideAreas[surface.garment] = insideAreas[surface.garment]! + area;
      onSkin?.(skinPoint, area, depth);
    });
    const inside = this.#penetration.measure(this.#showThrough.pierced);
    const stretches = this.#stretch.measure(0.99);
    const contacts = this.#countContacts();
    const garments = this.#run.garments.map(({ setup }, g): GarmentFrame => {
      const [all, layers, deepest, stretch] = [shown.all[g]!, shown.layers[g]!, inside[g]!, stretches[g]!];
      return {
        garmentId: setup.id,
        showThrough: all.area,
        penetration: deepest.depth,
        penetrationArea: insideAreas[g]!,
        layers: layers.depth,
        stretch: stretch.shared,
        worstEdge: stretch.most,
        jitter: null,
        scatter: null,
        contacts: contacts[g]!,
        cost: 0,
        places: this.#listPlaces(g, { all, layers, deepest, stretch }),
      };
    });
    return { ...combineGarments(garments), garments };
  }

  #listPlaces(
    garment: number,
    { all, layers, deepest, stretch }: { all: Shown; layers: Shown; deepest: Penetration; stretch: Stretch },
  ): GarmentFrame['places'] {
    const { surface, point, position, depth } = deepest;
    const inside = surface && {
      position,
      point: this.#surfaces.nameWelded(surface, point),
      amount: depth,
    };
    const edge = stretch.row >= 0 ? this.placeRow(garment, stretch.row, stretch.most) : null;
    const places = {
      showThrough: toPlace(all),
      layers: toPlace(layers),
      penetration: inside,
      penetrationArea: inside,
      stretch: edge,
      worstEdge: edge,
    };
    return Object.fromEntries(Object.entries(places).filter(([, place]) => place !== null));
  }

  /** Where a row of a garment's simulated vertices is. */
  placeRow(garment: number, row: number, amount: number): TrialPlace {
    const { shown, setup } = this.#run.garments[garment]!;
    return {
      position: [shown[4 * row]!, shown[4 * row + 1]!, shown[4 * row + 2]!],
      point: setup.compiled.weldedOfPoint[row]! as WeldedIndex,
      amount,
    };
  }

  /** Vertices that lie on bodies, by garment. */
  #countContacts(): number[] {
    const counts = new Map(this.#run.garments.map((garment) => [garment, 0]));
    const last = new Map<unknown, number>();
    this.#contacts.visit(this.#run, ({ garment, point }) => {
      // A vertex may lie on two.
      if (last.get(garment) === point) return;
      last.set(garment, point);
      counts.set(garment, counts.get(garment)! + 1);
    });
    return [...counts.values()];
  }

  #follow(): void {
    this.#surfaces.update();
    this.#skin.follow(this.#run.pose, this.#run.skinMatrices, this.#surfaces.computeBoxes());
  }
}

function toPlace({ position, depth }: Shown): TrialPlace | null {
  return position && { position, point: null, amount: depth };
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
