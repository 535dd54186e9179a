import { ClothSolver, type SolverOptions } from './cloth-solver.ts';
import type { CompiledGarment } from './compiled-garment.ts';
import {
  dampEdges,
  findFaceContacts,
  findInSubstep,
  findNearestTriangles,
  findRidgeContacts,
  findSelfFaces,
  findSelfPairs,
  holdTethers,
  holdWithinReach,
  listShapes,
  noteFastBlocks,
  predict,
  pull,
  solveBend,
  solveBodies,
  solveFaces,
  solveRidges,
  solveSelf,
  solveSelfFaces,
  solveStretch,
  solveSurface,
  updateFolds,
  updateHolds,
  updateInward,
  updateNormals,
  updatePushes,
  updateVelocities,
} from './constraints/index.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import type { FrameNumbers } from './frame-numbers.ts';
import { limitStretch, listLong } from './limit-stretch.ts';
import { PLAIN_ARENA } from './solver-state.ts';
import { NO_TIMES, type SolverTimes } from './solver-times.ts';

/** Whether the air, and what holds threads that give way, are looked at again after a substep. */
function isAirDue({ airEvery, substeps }: FrameNumbers, substep: number): boolean {
  return (substep + 1) % airEvery === 0 && substep + 1 < substeps;
}

/**
 * The readable solver: one constraint after the other in plain numbers. Exact in meaning, tested against closed forms;
 * the kernel must match it.
 */
export class PlainSolver extends ClothSolver {
  readonly #clock: (() => number) | undefined;
  #times: SolverTimes = { ...NO_TIMES };

  constructor(
    garment: CompiledGarment,
    fabric: FabricSettings,
    { clock, surfaces = [] }: SolverOptions = {},
  ) {
    super(garment, fabric, surfaces, PLAIN_ARENA);
    this.#clock = clock;
  }

  override takeTimes(): SolverTimes {
    const taken = this.#times;
    this.#times = { ...NO_TIMES };
    return taken;
  }

  protected override takeOwnWork(): void {}

  protected override startSurfaces(): void {
    for (const surface of this.state.surfaces) updateNormals(surface.to, surface.triangles, surface.normals);
  }

  protected override advance(frame: FrameNumbers): void {
    const { state } = this;
    const { pointCount, restPositions } = this.garment;
    const { substeps } = frame;
    const surfaces = state.surfaces.filter(({ distance }) => distance > 0);
    this.#measure('air', () => updatePushes(state, frame));
    let selfCount = 0;
    if (frame.selfDistance > 0) {
      this.#measure('self', () => {
        const find = frame.isSelfByFaces ? findSelfFaces : findSelfPairs;
        selfCount = find(state, restPositions, pointCount, frame);
      });
    }
    const ridgeCounts: number[] = [];
    const fast: boolean[] = [];
    for (const surface of surfaces) {
      this.#measure(surface.isBody ? 'bodies' : 'layers', () => {
        fast.push(noteFastBlocks(state, surface, pointCount, frame));
        findNearestTriangles(state, surface, pointCount, frame);
        updateNormals(surface.to, surface.triangles, surface.normals);
        ridgeCounts.push(findRidgeContacts(state, surface, pointCount, frame));
      });
    }
    let faceCount = 0;
    this.#measure('bodies', () => {
      faceCount = findFaceContacts(state, frame);
    });
    if (frame.hasEdgeDamping) this.#measure('stretch', () => dampEdges(state));
    if (frame.givesWay) this.#measure('stretch', () => updateHolds(state));
    if (frame.bendFilter) this.#measure('bend', () => updateFolds(state, frame));
    this.#measure('reach', () => {
      if (frame.hasInward) updateInward(state, pointCount);
      predict(state, frame, 1 / substeps);
    });
    for (let substep = 0; substep < substeps; substep++) {
      const share = (substep + 1) / substeps;
      this.#measure('bend', () => solveBend(state, frame));
      this.#measure('stretch', () => {
        for (let pass = 0; pass < frame.iterations; pass++) solveStretch(state, frame, pass);
      });
      const solve = frame.isSelfByFaces ? solveSelfFaces : solveSelf;
      if (selfCount > 0) this.#measure('self', () => solve(state, frame, selfCount));
      surfaces.forEach((surface, s) => {
        this.#measure(surface.isBody ? 'bodies' : 'layers', () => {
          if (fast[s]) findInSubstep(state, surface, pointCount, frame, substep);
          solveSurface(state, surface, pointCount, frame, share);
          solveRidges(state, surface, frame, share, ridgeCounts[s]!);
        });
      });
      pull(state, frame);
      const shapes = listShapes(state, frame, substep);
      this.#measure('bodies', () => solveFaces(state, frame, shapes, faceCount));
      this.#measure('reach', () => holdTethers(state, share));
      this.#measure('bodies', () => solveBodies(state, frame, shapes));
      this.#measure('reach', () => {
        holdWithinReach(state, frame, share);
        updateVelocities(state, frame);
        if (substep + 1 < substeps) predict(state, frame, (substep + 2) / substeps);
      });
      if (isAirDue(frame, substep)) {
        this.#measure('air', () => updatePushes(state, frame));
        if (frame.givesWay) this.#measure('stretch', () => updateHolds(state));
      }
    }
  }

  protected override conclude({ stretchCap }: FrameNumbers): void {
    const { garment, state } = this;
    this.#measure('stretch', () =>
      this.countLooks(limitStretch(garment, state, stretchCap, (most) => listLong(garment, state, most))),
    );
  }

  #measure(part: keyof SolverTimes, work: () => void): void {
    if (!this.#clock) {
      work();
      return;
    }
    const start = this.#clock();
    work();
    this.#times[part] += this.#clock() - start;
  }
}
