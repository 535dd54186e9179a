import { BodyDistances } from '../bodies/index.ts';
import { type Pricing, priceWork, REFERENCE_PRICING } from '../cost/index.ts';
import type { RecordId } from '../document/index.ts';
import {
  BodyContacts,
  type CharacterRun,
  type GarmentSetup,
  MeshDistances,
  type RunSetup,
  startRun,
} from '../run/index.ts';
import { playThrough } from '../suggest/index.ts';
import { TrialMeasure } from '../trials/index.ts';

/** What one body does on a clip. */
export interface BodyUse {
  id: RecordId;
  /** Share of the clip's frames in which cloth lies on it. */
  touched: number;
  /** Vertices that lie on it in any frame. */
  vertices: number;
  /** How much deeper cloth and skin pass through each other near it without it, m; 0 of what is never touched. */
  savedDepth: number;
  /** Area near it at which cloth and skin pass through each other without it and not with it, on the mean of the frames, m². */
  savedArea: number;
  /** What the bodies of a frame cost less without it, ms. */
  cost: number;
}

export interface UseRequest {
  /** Garments that use the set. */
  wearers: ReadonlySet<RecordId>;
  clip: number;
  /** What work is priced by; that of the reference machine when left out. */
  pricing?: Pricing;
  /** Share of the bodies that is one worker's; others are left out of the answer. Default all. */
  part?: { index: number; count: number };
}

/** Share of the progress that looking for contacts takes. */
const CONTACTS_SHARE = 0.1;
/** Every so many frames depths are measured. */
const MEASURE_EVERY = 6;
/** Skin so near to a body in bind pose, m, is what it keeps cloth from. */
const NEAR = 0.03;

/** A run with what is measured of it. */
interface Play {
  run: CharacterRun;
  measure: TrialMeasure;
  /** Deepest fault at each point of the skin, m, and the area of faults there on the mean, m². [n] each */
  depths: Float32Array;
  areas: Float32Array;
}

/**
 * What each body of a set does on a clip: where cloth lies on it, and what becomes of the clip when it is left out. All runs go side by
 * side, frame by frame. Bodies that are never touched are not left out in turn.
 * Yields the share done. Ours.
 *
 * @returns In the order of the set's bodies, and after them its meshes.
 */
export function* measureUse(setup: RunSetup, request: UseRequest): Generator<number, BodyUse[]> {
  const { wearers, clip, pricing = REFERENCE_PRICING, part = { index: 0, count: 1 } } = request;
  const isWearer = (id: RecordId): boolean => wearers.has(id);
  const ids = [...new Set(setup.garments.filter(({ id }) => isWearer(id)).flatMap(listMet))];
  const touches = yield* followContacts(setup, clip, isWearer);
  const own = ids.filter((_, i) => i % part.count === part.index);
  const tested = own.filter((id) => touches.of.has(id));
  const whole = createPlay(setup);
  const without = tested.map((id) => createPlay(leaveOut(setup, id, isWearer)));
  const nearSkin = tested.map((id) => findSkinNear(id, whole));
  yield* playAll([whole, ...without], clip);
  const [all, ...less] = [whole, ...without].map(
    ({ run }) => priceWork(run.takeWork(), pricing).parts.bodies,
  );
  return own.map((id) => {
    const touch = touches.of.get(id);
    const t = tested.indexOf(id);
    const use: BodyUse = { id, touched: 0, vertices: 0, savedDepth: 0, savedArea: 0, cost: 0 };
    if (!touch) return use;
    const play = without[t]!;
    const most = (depths: Float32Array): number =>
      nearSkin[t]!.reduce((so, p) => Math.max(so, depths[p]!), 0);
    const sum = (areas: Float32Array): number => nearSkin[t]!.reduce((so, p) => so + areas[p]!, 0);
    return {
      ...use,
      touched: touch.frames / touches.frames,
      vertices: touch.points.size,
      savedDepth: Math.max(0, most(play.depths) - most(whole.depths)),
      savedArea: Math.max(0, sum(play.areas) - sum(whole.areas)),
      cost: Math.max(0, all! - less[t]!),
    };
  });
}

interface Touches {
  frames: number;
  of: Map<RecordId, { frames: number; points: Set<string> }>;
}

/** Plays the clip once with all bodies and notes what cloth lies on. */
function* followContacts(
  setup: RunSetup,
  clip: number,
  isWearer: (id: RecordId) => boolean,
): Generator<number, Touches> {
  const run = startRun(setup);
  const contacts = new BodyContacts();
  const touches: Touches = { frames: 0, of: new Map() };
  const onFrame = (): void => {
    const now = new Set<RecordId>();
    touches.frames++;
    contacts.visit(run, ({ garment, point, id: touched }) => {
      if (!isWearer(garment.setup.id)) return;
      const id = touched as RecordId;
      now.add(id);
      if (!touches.of.has(id)) touches.of.set(id, { frames: 0, points: new Set() });
      touches.of.get(id)!.points.add(`${garment.setup.id} ${point}`);
    });
    for (const id of now) touches.of.get(id)!.frames++;
  };
  for (const share of playThrough([run], clip, { onFrame })) yield CONTACTS_SHARE * share;
  return touches;
}

/** Bodies and meshes that a garment meets. */
function listMet({ bodies, bodyMeshes = [] }: GarmentSetup): RecordId[] {
  return [...bodies, ...bodyMeshes].map(({ id }) => id as RecordId);
}

function leaveOut(setup: RunSetup, id: RecordId, isWearer: (id: RecordId) => boolean): RunSetup {
  return {
    ...setup,
    garments: setup.garments.map((garment) =>
      isWearer(garment.id)
        ? {
            ...garment,
            bodies: garment.bodies.filter((body) => body.id !== id),
            bodyMeshes: (garment.bodyMeshes ?? []).filter((mesh) => mesh.id !== id),
          }
        : garment,
    ),
  };
}

function createPlay(setup: RunSetup): Play {
  const run = startRun(setup);
  const measure = new TrialMeasure(run, setup.bodySections);
  const count = measure.skinPointCount;
  return { run, measure, depths: new Float32Array(count), areas: new Float32Array(count) };
}

/** Points of the skin that a body or mesh is near in bind pose. */
function findSkinNear(id: RecordId, { run, measure }: Play): number[] {
  run.play(null);
  run.reset();
  const positions = measure.gatherSkin();
  const isNear = createNearness(run, id);
  const near: number[] = [];
  for (let p = 0; p < positions.length / 3; p++)
    if (isNear(positions[3 * p]!, positions[3 * p + 1]!, positions[3 * p + 2]!)) near.push(p);
  return near;
}

/** Whether a place is near a body or mesh as a run has posed it. */
function createNearness(run: CharacterRun, id: RecordId): (x: number, y: number, z: number) => boolean {
  const body = run.garments.flatMap(({ setup }) => setup.bodies).find((one) => one.id === id);
  if (body) {
    const distances = new BodyDistances([body]);
    distances.pose(run.pose.worldMatrices);
    return (x, y, z) => distances.measure(0, x, y, z, NEAR) <= NEAR;
  }
  for (const { setup, bodyMeshPlaces } of run.garments) {
    const m = (setup.bodyMeshes ?? []).findIndex((mesh) => mesh.id === id);
    if (m < 0) continue;
    const distances = new MeshDistances(setup.bodyMeshes![m]!.mesh, 0);
    distances.pose(bodyMeshPlaces[m]!);
    // The skin beneath it is what it stands for.
    return (x, y, z) => distances.measure(x, y, z) <= NEAR;
  }
  return () => false;
}

function* playAll(plays: readonly Play[], clip: number): Generator<number, void> {
  let frame = 0;
  let measured = 0;
  const runs = plays.map(({ run }) => run);
  const onFrame = (): void => {
    const isMeasured = frame % MEASURE_EVERY === MEASURE_EVERY - 1;
    if (isMeasured) measured++;
    if (!isMeasured) {
      frame++;
      return;
    }
    for (const { measure, depths, areas } of plays) {
      measure.measure((point, area, depth) => {
        depths[point] = Math.max(depths[point]!, depth);
        areas[point] = areas[point]! + area;
      });
    }
    frame++;
  };
  const onSettled = (): void => {
    for (const { measure } of plays) measure.noteCovers();
  };
  const onStart = (): void => {
    for (const run of runs) run.takeWork();
  };
  const hooks = { onFrame, onSettled, onStart };
  for (const share of playThrough(runs, clip, hooks)) yield CONTACTS_SHARE + (1 - CONTACTS_SHARE) * share;
  for (const { areas } of plays)
    for (let p = 0; p < areas.length; p++) areas[p] = areas[p]! / Math.max(1, measured);
}
