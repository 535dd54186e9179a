import { FABRIC_DEFAULTS, type FabricSettings } from '../../cloth/index.ts';
import { FRAME_RATE, type RunWork, setUpRun, startRun } from '../../run/index.ts';
import {
  createCalibrationCharacter,
  createCalibrationDocument,
  type GarmentSpec,
} from '../calibrate/index.ts';

/** A garment that is timed on a target, and what of it takes most there. */
export interface TargetGarment {
  spec: GarmentSpec;
  /** In words, for who has to build it into an engine. */
  says: string;
}

const PLAIN_FABRIC: FabricSettings = {
  ...FABRIC_DEFAULTS,
  bendStiffness: 0,
  airDrag: 0,
  airLift: 0,
  selfDistance: 0,
  substepsPerSecond: 6 * FRAME_RATE,
  iterations: 1,
};

const PLAIN: Omit<GarmentSpec, 'name' | 'columns' | 'rows' | 'fabric'> = {
  height: 0.7,
  otherJoints: 0,
  isOpen: false,
  unevenness: 0,
  layers: 1,
  capsules: 0,
  boxes: 0,
  meetsSkin: false,
  hasInwardLimit: false,
  isDrawnFine: false,
  wind: 0,
  isGusty: false,
};

const SMALL = { columns: 24, rows: 12 };
const USUAL = { columns: 40, rows: 20 };
const LARGE = { columns: 60, rows: 24 };
const WINDY = { wind: 5, isGusty: true };
const IN_AIR = { airDrag: 1, airLift: 1, substepsPerSecond: FRAME_RATE };

interface Entry extends Partial<Omit<GarmentSpec, 'fabric'>> {
  name: string;
  says: string;
  fabric?: Partial<FabricSettings>;
}

/** In each some kind of work takes most of the time, so that few timings tell them apart. */
const ENTRIES: readonly Entry[] = [
  { name: 'plain small', says: 'little of everything', ...SMALL },
  { name: 'plain large', says: 'little of everything, on a large mesh', ...LARGE },
  {
    name: 'stretch',
    says: 'many passes of stretch',
    fabric: { iterations: 4, substepsPerSecond: 12 * FRAME_RATE },
  },
  { name: 'stretch large', says: 'passes of stretch on a large mesh', ...LARGE, fabric: { iterations: 3 } },
  { name: 'stiff', says: 'stiff against bending', fabric: { bendStiffness: 0.1, foldMemory: 1 } },
  {
    name: 'stiff large',
    says: 'stiff against bending, on a large mesh',
    ...LARGE,
    fabric: { bendStiffness: 0.1, foldMemory: 1 },
  },
  {
    name: 'substeps tiny',
    says: 'many substeps of few vertices',
    columns: 8,
    rows: 6,
    fabric: { substepsPerSecond: 24 * FRAME_RATE },
  },
  {
    name: 'substeps limits',
    says: 'many substeps of few vertices, with inward limits',
    columns: 12,
    rows: 8,
    hasInwardLimit: true,
    fabric: { substepsPerSecond: 24 * FRAME_RATE },
  },
  {
    name: 'substeps small',
    says: 'many substeps of a small mesh',
    columns: 16,
    rows: 10,
    fabric: { substepsPerSecond: 24 * FRAME_RATE },
  },
  { name: 'wind', says: 'wind in gusts', ...WINDY, fabric: IN_AIR },
  { name: 'wind large', says: 'wind in gusts on a large mesh', ...LARGE, ...WINDY, fabric: IN_AIR },
  { name: 'bodies many', says: 'many collision bodies', capsules: 20, boxes: 4 },
  {
    name: 'bodies few',
    says: 'some collision bodies, many substeps',
    capsules: 8,
    fabric: { substepsPerSecond: 12 * FRAME_RATE },
  },
  { name: 'body mesh', says: 'the skin as a body mesh', meetsSkin: true },
  {
    name: 'self triangles',
    says: 'self-collision between triangles',
    fabric: { selfDistance: 0.0165, substepsPerSecond: 2 * FRAME_RATE },
  },
  {
    name: 'self vertices',
    says: 'self-collision between vertices',
    columns: 72,
    rows: 12,
    height: 0.3,
    fabric: { selfDistance: 0.0443 },
  },
  { name: 'layers', says: 'two garments, one over the other', layers: 2 },
  {
    name: 'layers small',
    says: 'two small garments, one over the other, many substeps',
    layers: 2,
    columns: 32,
    rows: 16,
    fabric: { substepsPerSecond: 12 * FRAME_RATE },
  },
  {
    name: 'drawn fine',
    says: 'a fine mesh drawn in place of the one that is simulated',
    isDrawnFine: true,
    fabric: { substepsPerSecond: FRAME_RATE },
  },
  {
    name: 'many joints',
    says: 'a skeleton of many joints, a fine mesh drawn',
    ...SMALL,
    isDrawnFine: true,
    otherJoints: 120,
    fabric: { substepsPerSecond: 2 * FRAME_RATE },
  },
];

/** The garments that somebody times on their target. The same everywhere. */
export function listTargetGarments(): TargetGarment[] {
  return ENTRIES.map(({ says, fabric, ...entry }) => ({
    says,
    spec: { ...PLAIN, ...USUAL, ...entry, fabric: { ...PLAIN_FABRIC, ...fabric } },
  }));
}

/** What of each is done: the second round of its clip, at `FRAME_RATE`. Yields the share done. */
export function* countTargetWork(garments: readonly TargetGarment[]): Generator<number, RunWork[]> {
  const works: RunWork[] = [];
  for (const { spec } of garments) {
    const character = createCalibrationCharacter(spec);
    const run = startRun(setUpRun(createCalibrationDocument(spec, character), character));
    run.play(0);
    run.reset();
    const round = Math.round(run.duration * FRAME_RATE);
    for (let frame = 0; frame < round; frame++) run.step();
    run.takeWork();
    for (let frame = 0; frame < round; frame++) run.step();
    works.push(run.takeWork());
    yield works.length / garments.length;
  }
  return works;
}
