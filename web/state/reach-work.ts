import {
  type ChannelRecord,
  findChannel,
  type GarmentRecord,
  type RecordId,
} from '../../core/document/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import {
  CHANNELS,
  type ChannelKind,
  computeFlood,
  computeRamp,
  EVEN_RAMP,
  growPoints,
  invertPoints,
  type PointSet,
  pickConnected,
  pickHeld,
  type RampCurve,
  type SparseChange,
  shrinkPoints,
  writeRamp,
} from '../../core/reach/index.ts';
import {
  type Character,
  findDominantJoints,
  findSection,
  type Section,
  toDenseWeights,
} from '../../core/rig/index.ts';
import type { Editor } from './editor.ts';
import type { InnerSides } from './inner-sides.ts';
import { addMap } from './maps.ts';
import { getReachMesh, type ReachMesh } from './reach-mesh.ts';
import type { Session } from './session.ts';
import { Store } from './store.ts';

/** What the panel of the stage shows, and with it what the pointer does. */
export type ReachTab = 'brush' | 'points' | 'ramp' | 'image' | 'look';

/** A set of points that is being picked: what painting keeps to, or an end of the ramp. */
export type PickSlot = 'mask' | 'low' | 'high';

export interface ReachState {
  tab: ReachTab;
  /** Which end of the ramp is picked. */
  end: 'low' | 'high';
  pick: { tool: 'brush' | 'lasso' | 'loop'; radius: number; isThrough: boolean; isErasing: boolean };
  sets: Readonly<Record<PickSlot, PointSet | null>>;
  /** Metres, shares or factors, by the channel. */
  ramp: { low: number; high: number; curve: RampCurve };
  /** Lines on the map at these values. */
  contours: readonly number[];
  showContours: boolean;
  showInward: boolean;
  /** Top of the legend; null: it fits itself. */
  top: number | null;
  /** Another map of the channel, whose difference is shown in place of the values. */
  comparedId: RecordId | null;
  /** The brush smooths as long as a key is held. */
  isSmoothing: boolean;
}

const NO_SETS: ReachState['sets'] = { mask: null, low: null, high: null };

/** The map that is worked on, with its mesh. */
export interface PaintedMap {
  garment: GarmentRecord;
  kind: ChannelKind;
  map: ChannelRecord;
  values: Float32Array;
  reachMesh: ReachMesh;
}

/** Where nothing was prepared there is no inner side. */
const NONE_KNOWN: Pick<InnerSides, 'get'> = { get: () => null };

/** What is done on the Reach stage besides brushing: sets of points, ramps, whole maps, and what is shown. */
export class ReachWork {
  readonly store = new Store<ReachState>({
    tab: 'brush',
    end: 'low',
    pick: { tool: 'loop', radius: 0.04, isThrough: false, isErasing: false },
    sets: NO_SETS,
    ramp: { low: 0, high: 0.4, curve: EVEN_RAMP },
    contours: [],
    showContours: false,
    showInward: true,
    top: null,
    comparedId: null,
    isSmoothing: false,
  });
  readonly #editor: Editor;
  readonly #innerSides: Pick<InnerSides, 'get'>;
  readonly #session: Store<Session>;
  /** Of the garment and mesh that the sets belong to. */
  #owner = '';
  #shares: { low: PointSet; high: PointSet; shares: Float32Array } | null = null;

  constructor(editor: Editor, session: Store<Session>, innerSides: Pick<InnerSides, 'get'> = NONE_KNOWN) {
    this.#innerSides = innerSides;
    this.#editor = editor;
    this.#session = session;
    const follow = (): void => this.#follow();
    editor.subscribe(follow);
    session.subscribe(follow);
    follow();
  }

  /** The selected garment, when it is worn. */
  get garment(): GarmentRecord | null {
    const { garmentId } = this.#session.state;
    const record = garmentId ? this.#editor.document.records.get(garmentId) : undefined;
    if (record?.type !== 'garment' || findSection(this.#editor.character, record) < 0) return null;
    return record;
  }

  get reachMesh(): ReachMesh | null {
    const { garment } = this;
    if (!garment) return null;
    const { character } = this.#editor;
    return getReachMesh(character, findSection(character, garment));
  }

  /** The map of the chosen channel that is in use; null when there is none, or a new mesh is on its way. */
  get painted(): PaintedMap | null {
    return this.find(this.#session.state.channel);
  }

  /** The map of a channel that is in use. */
  find(kind: ChannelKind): PaintedMap | null {
    const { garment } = this;
    const map = garment && findChannel(this.#editor.document, garment.id, kind);
    const values = map && this.#editor.document.arrays.get(map.id);
    if (!garment || !map || values?.length !== this.#pointCount) return null;
    const getMesh = (): ReachMesh => this.reachMesh!;
    return {
      garment,
      kind,
      map,
      values: values!,
      // Made when it is first asked for: looking at a map does not need it.
      get reachMesh() {
        return getMesh();
      },
    };
  }

  /** Points of the selected garment's mesh; -1 without one. */
  get #pointCount(): number {
    const { garment } = this;
    const { character } = this.#editor;
    return garment ? countPoints(character.sections[findSection(character, garment)]!) : -1;
  }

  /** As `find`, with a map made when there is none. Null without a garment, or while what it needs is being made. */
  ensure(kind: ChannelKind): PaintedMap | null {
    const known = this.find(kind);
    const { garment, reachMesh } = this;
    if (known || !garment || !reachMesh) return known;
    if (findChannel(this.#editor.document, garment.id, kind)) return null;
    // A lining begins with what was recognised, other maps with their default.
    const isLined = kind === 'lining' && garment.lining === 'inside';
    const inner = isLined ? this.#innerSides.get(garment) : null;
    if (isLined && !inner) return null;
    addMap(
      this.#editor,
      garment,
      kind,
      reachMesh.mesh.pointCount,
      inner ? Float32Array.from(inner) : undefined,
    );
    return this.find(kind);
  }

  get channel(): ChannelKind {
    return this.#session.state.channel;
  }

  /** How much more another map has at each point, when one is compared; see `ReachState.comparedId`. */
  get comparison(): Float32Array | null {
    const { comparedId } = this.store.state;
    const other = comparedId ? this.#editor.document.arrays.get(comparedId) : undefined;
    const values = this.painted?.values;
    return values && other?.length === values.length ? values.map((value, i) => other![i]! - value) : null;
  }

  /** What painting keeps to; null when nothing is picked. */
  get mask(): PointSet | null {
    const { mask } = this.store.state.sets;
    return mask?.includes(1) ? mask : null;
  }

  /** The set that is being picked. */
  get slot(): PickSlot {
    const { tab, end } = this.store.state;
    return tab === 'ramp' ? end : 'mask';
  }

  /** Puts points into a set, or takes them out. */
  pick(
    points: Iterable<number>,
    slot: PickSlot = this.slot,
    isErasing = this.store.state.pick.isErasing,
  ): void {
    const set = this.#getSet(slot)?.slice();
    if (!set) return;
    for (const point of points) set[point] = isErasing ? 0 : 1;
    this.setPoints(slot, set);
  }

  setPoints(slot: PickSlot, set: PointSet | null): void {
    this.store.set({ sets: { ...this.store.state.sets, [slot]: set?.includes(1) ? set : null } });
  }

  grow(slot: PickSlot): void {
    this.#map(slot, (set, { neighbours }) => growPoints(neighbours, set));
  }

  shrink(slot: PickSlot): void {
    this.#map(slot, (set, { neighbours }) => shrinkPoints(neighbours, set));
  }

  invert(slot: PickSlot): void {
    this.#map(slot, invertPoints);
  }

  /** The whole connected pieces that have a point of the set. */
  pickPiece(slot: PickSlot): void {
    this.#map(slot, (set, { neighbours }) => pickConnected(neighbours, set));
  }

  /** The points that are held. */
  pickHeld(slot: PickSlot): void {
    const reach = this.find('maxDistance');
    if (reach) this.setPoints(slot, pickHeld(reach.values));
  }

  /** The points that a joint leads. @param joint - Of the skin. */
  pickJoint(slot: PickSlot, joint: number): void {
    const { garment } = this;
    const { character } = this.#editor;
    if (!garment) return;
    const dominantJoint = listDominantJoints(character, findSection(character, garment));
    this.setPoints(
      slot,
      Uint8Array.from(dominantJoint, (each) => (each === joint ? 1 : 0)),
    );
  }

  /** One change of the map that is worked on, as one step; steps with the same key in a row are one. */
  change(
    label: string,
    compute: (painted: PaintedMap) => SparseChange,
    mergeKey: string | null = null,
    kind = this.#session.state.channel,
  ): void {
    // A map that has to be made first is part of the step.
    const isNew = !this.find(kind);
    if (isNew) this.#editor.beginStroke();
    try {
      const painted = this.ensure(kind);
      if (painted) this.#editor.paint(label, painted.map.id, compute(painted), mergeKey);
    } finally {
      if (isNew) this.#editor.endStroke();
    }
  }

  /** Holds the picked points, whatever channel is looked at. */
  hold(): void {
    const { mask } = this;
    if (!mask) return;
    this.change(
      'Hold vertices',
      ({ values, kind }) => computeFlood(values, 0, { kind, mask }),
      null,
      'maxDistance',
    );
  }

  /**
   * Writes the ramp between its two ends.
   * @throws {RangeError} When an end is missing, or nothing joins them.
   */
  writeRamp(mergeKey: string | null = null): void {
    const { low, high } = this.store.state.sets;
    const { ramp } = this.store.state;
    const { reachMesh } = this;
    if (!reachMesh) return;
    const count = reachMesh.mesh.pointCount;
    const shares = this.#findShares(low ?? new Uint8Array(count), high ?? new Uint8Array(count), reachMesh);
    this.change(
      'Ramp',
      ({ values }) => writeRamp(values, shares, ramp.low, ramp.high, ramp.curve, this.mask),
      mergeKey,
    );
  }

  #findShares(low: PointSet, high: PointSet, { mesh }: ReachMesh): Float32Array {
    if (this.#shares?.low !== low || this.#shares.high !== high) {
      const shares = computeRamp({ positions: mesh.pointPositions, triangles: mesh.faces }, low, high);
      this.#shares = { low, high, shares };
    }
    return this.#shares.shares;
  }

  #getSet(slot: PickSlot): PointSet | null {
    const count = this.reachMesh?.mesh.pointCount;
    return this.store.state.sets[slot] ?? (count === undefined ? null : new Uint8Array(count));
  }

  #map(slot: PickSlot, change: (set: PointSet, mesh: ReachMesh) => PointSet): void {
    const set = this.#getSet(slot);
    const { reachMesh } = this;
    if (set && reachMesh) this.setPoints(slot, change(set, reachMesh));
  }

  /** Sets belong to one garment and mesh; what is compared and the ramp's values to one channel. */
  #follow(): void {
    const { garment } = this;
    const owner = garment ? `${garment.id} ${this.#pointCount}` : '';
    if (owner !== this.#owner) {
      this.#owner = owner;
      this.#shares = null;
      this.store.set({ sets: NO_SETS });
    }
    const { comparedId } = this.store.state;
    const compared = comparedId ? this.#editor.document.records.get(comparedId) : undefined;
    const isValid =
      compared?.type === 'channel' &&
      compared.garmentId === garment?.id &&
      compared.kind === this.#session.state.channel &&
      !compared.isInUse;
    if (comparedId && !isValid) this.store.set({ comparedId: null });
  }

  /** Another channel to look at and paint. */
  choose(channel: ChannelKind): void {
    if (this.#session.state.channel === channel) return;
    const { brushValue, defaultValue } = CHANNELS[channel];
    // A new map of it begins with what is recognised: that takes a moment.
    if (channel === 'lining' && this.garment?.lining === 'inside') this.#innerSides.get(this.garment);
    this.store.set({
      top: null,
      contours: [],
      comparedId: null,
      ramp: {
        ...this.store.state.ramp,
        low: defaultValue,
        high: channel === 'maxDistance' ? 0.4 : brushValue,
      },
    });
    this.#session.set({ channel });
  }
}

/** The joint of the skin with the largest weight at each point of a section. */
function listDominantJoints(character: Character, sectionIndex: number): Uint16Array {
  const section = character.sections[sectionIndex]!;
  const { vertexOfPoint } = getReachMesh(character, sectionIndex).mesh;
  const jointCount = character.skins[section.skin]!.joints.length;
  const ofVertices = findDominantJoints(toDenseWeights(section, jointCount), jointCount);
  return Uint16Array.from(vertexOfPoint, (vertex) => ofVertices[vertex]!);
}

const pointsOfSection = new WeakMap<Section, number>();

/** Counted once for each section. */
function countPoints(section: Section): number {
  let count = pointsOfSection.get(section);
  if (count === undefined) {
    count = weldPoints(section.positions).pointCount;
    pointsOfSection.set(section, count);
  }
  return count;
}
