import { BEND_FILTER_MEAN, MOST_BEND_STEPS } from '../bend-filter.ts';
import { ClothSolver, type FrameForces, type SharedKernel, type SolverOptions } from '../cloth-solver.ts';
import { MOST_CHAIN_ROWS } from '../compile/pack-chains.ts';
import type { CompiledGarment } from '../compiled-garment.ts';
import type { FabricSettings } from '../fabric-parameters.ts';
import { type FrameNumbers, WAVE_COUNT } from '../frame-numbers.ts';
import { limitStretch } from '../limit-stretch.ts';
import { allocateState, MOST_PLANES, type SolverState, type SurfaceTopology } from '../solver-state.ts';
import { NO_TIMES, type SolverTimes } from '../solver-times.ts';
import type { SolverWork, SolverWorkKey } from '../solver-work.ts';
import {
  ARENA_START,
  BLOCK_BYTES,
  BODY_WORK,
  CAPSULE_BYTES,
  CHAIN_ROW_BYTES,
  HEADER,
  HULL_BYTES,
  MOST_CAPSULES,
  MOST_HULLS,
  Part,
  Slot,
  Surface,
  Work,
} from './assembly/layout.ts';
import { KernelArena } from './kernel-arena.ts';
import { type Kernel, startKernel } from './kernel-module.ts';

const NO_CLOCK = (): number => 0;

/** Arrays that the kernel keeps for itself. */
interface KernelState {
  restPositions: Float32Array;
  waves: Float32Array;
  turnedWaves: Float32Array;
  bendCoefficients: Float32Array;
  surfaces: Uint32Array;
  targetStarts: Float32Array;
  targetDisplacements: Float32Array;
  capsules: Float32Array;
  hullBoxes: Float32Array;
  planes: Float32Array;
  boxes: Float32Array;
  searchTurned: Float32Array;
  searchBoxes: Float32Array;
  searchList: Uint32Array;
  faceQuads: Float32Array;
  faceBoxes: Float32Array;
  faceList: Uint32Array;
  longPairs: Uint32Array;
  /** Where the points were at the start of a substep, when a body is fast. [R, 4] */
  substepStarts: Float32Array;
  chainRows: Float32Array;
  block: Float32Array;
  times: Float32Array;
  work: Float32Array;
  bodyWork: Uint32Array;
}

/**
 * The fast solver: the same frame as `PlainSolver`'s, in WebAssembly with 128-bit vectors. The state lives in the
 * kernel's memory, so nothing is copied; each solver has a memory and an instance of its own. Where the memory is shared, another
 * thread may compute a frame in it with an instance of its own, to the same bytes.
 *
 * What makes it fast: rows of 16 bytes, so that a constraint loads whole points and gathers no lanes; four chains of
 * pairs side by side; bending as one sparse product with nothing to wait for; one pass over the points for everything
 * that concerns a point alone, with bodies culled by the box of 16 points; points along a space-filling curve.
 */
export class KernelSolver extends ClothSolver {
  readonly #kernel: Kernel;
  readonly #shared: SharedKernel | null;
  readonly #clock: () => number;
  readonly #own: KernelState;
  readonly #words: Uint32Array;
  readonly #numbers: Float32Array;
  readonly #times: Float64Array;
  readonly #work: Float64Array;
  /** The table of surfaces, its numbers. */
  readonly #surfaceNumbers: Float32Array;

  constructor(
    garment: CompiledGarment,
    fabric: FabricSettings,
    { clock = NO_CLOCK, surfaces = [], isShared = false }: SolverOptions = {},
  ) {
    const arena = KernelArena.measure(ARENA_START, isShared, (counting) => {
      allocateState(garment, surfaces, counting);
      allocateOwn(garment, surfaces, counting);
    });
    super(garment, fabric, surfaces, arena);
    this.#shared = isShared ? { memory: arena.memory, isTimed: clock !== NO_CLOCK } : null;
    this.#own = allocateOwn(garment, surfaces, arena);
    this.#own.restPositions.set(garment.restPositions);
    const { buffer } = arena.memory;
    this.#words = new Uint32Array(buffer, HEADER, Slot.length);
    this.#numbers = new Float32Array(buffer, HEADER, Slot.length);
    const { surfaces: table } = this.#own;
    this.#surfaceNumbers = new Float32Array(table.buffer, table.byteOffset, table.length);
    this.#times = new Float64Array(buffer, this.#own.times.byteOffset, Part.length);
    this.#work = new Float64Array(buffer, this.#own.work.byteOffset, Work.length);
    this.#kernel = startKernel(arena.memory, clock, isShared);
    this.#clock = clock;
    this.#writeAddresses();
    toByteOffsets(this.state);
  }

  override takeTimes(): SolverTimes {
    const t = this.#times;
    const taken: SolverTimes = {
      ...NO_TIMES,
      stretch: t[Part.stretch]!,
      bend: t[Part.bend]!,
      reach: t[Part.reach]!,
      bodies: t[Part.meshes]!,
      self: t[Part.self]!,
      layers: t[Part.layers]!,
      air: t[Part.air]!,
    };
    t.fill(0);
    return taken;
  }

  override get shared(): SharedKernel | null {
    return this.#shared;
  }

  override begin(seconds: number, targets: Float32Array, forces: FrameForces): void {
    this.#timeBeside(() => super.begin(seconds, targets, forces));
  }

  override finish(): void {
    this.#timeBeside(() => super.finish());
  }

  /** What is done besides the kernel's frame goes with what all vertices need. */
  #timeBeside(work: () => void): void {
    const start = this.#clock();
    const before = this.#sumTimes();
    work();
    this.#times[Part.reach]! += this.#clock() - start - (this.#sumTimes() - before);
  }

  #sumTimes(): number {
    return this.#times.reduce((sum, time) => sum + time, 0);
  }

  protected override takeOwnWork(work: SolverWork): void {
    const { counts } = work;
    const own = this.#own.bodyWork;
    for (const key of KERNEL_WORK) counts[key] += this.#work[Work[key]]!;
    work.bodies = work.bodies.map((_, b) => {
      const o = BODY_WORK * (b < this.capsuleCount ? b : MOST_CAPSULES + b - this.capsuleCount);
      return { tested: own[o]!, touched: own[o + 1]!, faces: own[o + 2]! };
    });
    work.bodies.forEach(({ tested, touched }, b) => {
      counts[b < this.capsuleCount ? 'bodyVertices' : 'planeVertices'] += tested;
      counts.touchedVertices += touched;
    });
    this.#work.fill(0);
    own.fill(0);
  }

  protected override areFinite(rows: Float32Array): boolean {
    return this.#kernel.areFinite(rows.byteOffset) !== 0;
  }

  protected override startSurfaces(): void {
    this.#kernel.startSurfaces();
  }

  protected override prepare(frame: FrameNumbers): void {
    this.#writeFrame(frame);
  }

  protected override advance(): void {
    this.#kernel.advance();
  }

  protected override conclude(frame: FrameNumbers): void {
    const start = this.#clock();
    this.countLooks(
      limitStretch(this.garment, this.state, frame.stretchCap, (most) =>
        this.#own.longPairs.subarray(0, this.#kernel.listLong(most)),
      ),
    );
    this.#times[Part.stretch] = this.#times[Part.stretch]! + this.#clock() - start;
  }

  #writeAddresses(): void {
    const { state, garment } = this;
    const own = this.#own;
    const words = this.#words;
    const arrays = { ...state, ...own } as unknown as Record<string, { byteOffset: number }>;
    for (const name of ADDRESSES) words[Slot[name]] = arrays[name]!.byteOffset;
    words[Slot.pointCount] = garment.pointCount;
    words[Slot.rowCount] = garment.rowCount;
    words[Slot.pairCount] = garment.stretchRest.length;
    words[Slot.batchCount] = garment.stretchBatches.length - 1;
    words[Slot.triangleCount] = garment.triangles.length / 3;
    words[Slot.hingeCount] = garment.bend.hinges.rest.length;
    words[Slot.surfaceCount] = state.surfaces.length;
    const floats = this.#surfaceNumbers;
    state.surfaces.forEach((surface, s) => {
      const o = Surface.length * s;
      for (const name of SURFACE_ADDRESSES) own.surfaces[o + Surface[name]] = surface[name].byteOffset;
      own.surfaces[o + Surface.pointCount] = surface.pointCount;
      own.surfaces[o + Surface.triangleCount] = surface.triangleCount;
      own.surfaces[o + Surface.isBody] = surface.isBody ? 1 : 0;
      floats[o + Surface.spacing] = surface.spacing;
    });
  }

  #writeFrame(frame: FrameNumbers): void {
    const words = this.#words;
    const numbers = this.#numbers;
    for (const name of COUNTS) words[Slot[name]] = frame[name];
    for (const name of NUMBERS) numbers[Slot[name]] = frame[name];
    words[Slot.hasEdgeDamping] = frame.hasEdgeDamping ? 1 : 0;
    words[Slot.givesWay] = frame.givesWay ? 1 : 0;
    words[Slot.hasInward] = frame.hasInward ? 1 : 0;
    words[Slot.isSelfByFaces] = frame.isSelfByFaces ? 1 : 0;
    words[Slot.bendSteps] = frame.bendFilter?.steps ?? 0;
    if (frame.bendFilter) this.#own.bendCoefficients.set(frame.bendFilter.coefficients);
    numbers[Slot.bendMean] = BEND_FILTER_MEAN;
    numbers[Slot.windX] = frame.wind[0];
    numbers[Slot.windY] = frame.wind[1];
    numbers[Slot.windZ] = frame.wind[2];
    this.#own.waves.set(frame.waves);
    this.state.surfaces.forEach(({ distance }, s) => {
      this.#surfaceNumbers[Surface.length * s + Surface.distance] = distance;
    });
  }
}

/** What the kernel counts itself. */
const KERNEL_WORK = Object.keys(Work).filter(
  (key) => key !== 'length' && Number.isNaN(Number(key)),
) as (SolverWorkKey & keyof typeof Work)[];

const OWN = [
  'restPositions',
  'waves',
  'turnedWaves',
  'bendCoefficients',
  'surfaces',
  'targetStarts',
  'targetDisplacements',
  'capsules',
  'hullBoxes',
  'planes',
  'boxes',
  'searchTurned',
  'searchBoxes',
  'searchList',
  'faceQuads',
  'faceBoxes',
  'faceList',
  'longPairs',
  'substepStarts',
  'chainRows',
  'block',
  'times',
  'work',
  'bodyWork',
] as const satisfies (keyof KernelState)[];

const ADDRESSES = [
  'positions',
  'velocities',
  'predicted',
  'targets',
  'nextTargets',
  'targetNormals',
  'inverseMasses',
  'heldRows',
  'reach',
  'inward',
  'inwardDepths',
  'pushes',
  'velocityRetention',
  'tetherAnchors',
  'tetherLengths',
  'pairs',
  'pairBatches',
  'pairLow',
  'pairHigh',
  'pairRest',
  'pairSoftness',
  'pairSum',
  'pairCoupling',
  'pairEndMass',
  'pairMultipliers',
  'pairHolds',
  'pointTensions',
  'pairDampA',
  'pairDampB',
  'triangles',
  'aeroScale',
  'faceContacts',
  'bendStart',
  'bendColumns',
  'bendValues',
  'bendRest',
  'bendPositions',
  'hingeQuads',
  'hingeWeights',
  'hingeCurvatures',
  'hingeDoubleLengths',
  'hingeInverseAreas',
  'foldShares',
  'capsulesFrom',
  'capsulesTo',
  'planesFrom',
  'planesTo',
  'hulls',
  'hullBoxesFrom',
  'hullBoxesTo',
  'hullMotions',
  'hullSizes',
  'faceOrder',
  'besideStart',
  'besideList',
  'besideMarks',
  'selfPairs',
  'goodPositions',
  'pulledRows',
  'pulledPositions',
  ...OWN,
] as const;

const SURFACE_ADDRESSES = [
  'from',
  'to',
  'subFrom',
  'subTo',
  'normals',
  'triangles',
  'aroundStart',
  'aroundList',
  'nearest',
  'clearances',
  'centres',
  'nearPoints',
  'over',
  'rises',
  'ridgeContacts',
  'fastBlocks',
] as const;

const COUNTS = [
  'index',
  'capsuleCount',
  'hullCount',
  'heldCount',
  'pulledCount',
  'substeps',
  'iterations',
  'airEvery',
] as const;

const NUMBERS = [
  'seconds',
  'h',
  'density',
  'gravity',
  'foldMemory',
  'plasticYieldAngle',
  'thickness',
  'friction',
  'selfDistance',
  'layerMargin',
  'airDrag',
  'airLift',
  'largestFace',
] as const;

function allocateOwn(
  { rowCount, triangles, stretchRest }: CompiledGarment,
  surfaces: readonly SurfaceTopology[],
  arena: KernelArena,
): KernelState {
  const largest = Math.max(rowCount, ...surfaces.map((surface) => surface.pointCount));
  const faceBlocks = Math.ceil(triangles.length / 48);
  const searched = 16 * Math.ceil(largest / 16);
  return {
    restPositions: arena.floats(4 * rowCount),
    waves: arena.floats(8 * WAVE_COUNT),
    turnedWaves: arena.floats(64),
    bendCoefficients: arena.floats(2 * MOST_BEND_STEPS),
    surfaces: arena.words(Surface.length * surfaces.length),
    targetStarts: arena.floats(3 * rowCount),
    targetDisplacements: arena.floats(3 * rowCount),
    capsules: arena.floats((CAPSULE_BYTES / 4) * MOST_CAPSULES),
    hullBoxes: arena.floats((HULL_BYTES / 4) * MOST_HULLS),
    planes: arena.floats(4 * MOST_PLANES),
    boxes: arena.floats(rowCount / 2),
    searchTurned: arena.floats(3 * searched),
    searchBoxes: arena.floats(searched / 2),
    searchList: arena.words(searched / 16),
    faceQuads: arena.floats(96 * faceBlocks),
    faceBoxes: arena.floats(16 * faceBlocks),
    faceList: arena.words(3 * faceBlocks),
    longPairs: arena.words(stretchRest.length),
    substepStarts: arena.floats(4 * rowCount),
    chainRows: arena.floats((CHAIN_ROW_BYTES / 4) * MOST_CHAIN_ROWS),
    block: arena.floats(BLOCK_BYTES / 4),
    times: arena.floats(2 * Part.length),
    work: arena.floats(2 * Work.length),
    bodyWork: arena.words(BODY_WORK * (MOST_CAPSULES + MOST_HULLS)),
  };
}

/** The kernel adds indices of rows to addresses as they are. */
function toByteOffsets(state: SolverState): void {
  const lists = [state.pairs, state.triangles, state.bendColumns, state.hingeQuads];
  for (const list of [...lists, ...state.surfaces.map((surface) => surface.triangles)]) {
    for (let i = 0; i < list.length; i++) list[i] = 16 * list[i]!;
  }
}
