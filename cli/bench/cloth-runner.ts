import {
  type ClothSolver,
  computeWindAt,
  type FabricSettings,
  KernelSolver,
  NO_WIND,
  PlainSolver,
} from '../../core/cloth/index.ts';
import type { Character } from '../../core/rig/index.ts';
import {
  BENCH_FABRIC,
  BENCH_FRAME,
  compileSkirt,
  gradeSkirt,
  INWARD_DEPTH,
  INWARD_ROUNDNESS,
  poseLegs,
  swayAt,
  toCollision,
} from './skirt.ts';

/** Something that advances the skirt by one frame; poses are made beforehand, so that only the cloth is timed. */
export interface Runner {
  prepare(frame: number): void;
  step(): void;
  /** Height of the middle of the hem, to see that all do the same. */
  measureHem(): number;
}

const AIR = computeWindAt(NO_WIND, 0);

export function createClothRunner(
  character: Character,
  kind: 'kernel' | 'plain',
  change: Partial<FabricSettings> = {},
): Runner & { solver: ClothSolver } {
  // The plain solver in the order of the file: what anybody would write first.
  const garment = compileSkirt(character, { order: kind === 'kernel' ? 'curve' : 'natural' });
  const Solver = kind === 'kernel' ? KernelSolver : PlainSolver;
  const solver = new Solver(garment, { ...BENCH_FABRIC, ...change });
  solver.setMaxDistances(gradeSkirt(character));
  solver.setInwardLimits(
    new Float32Array(garment.pointCount).fill(INWARD_DEPTH),
    new Float32Array(garment.pointCount).fill(INWARD_ROUNDNESS),
  );
  const targets = garment.restPositions.slice();
  let bodies = toCollision(poseLegs(0));
  solver.reset(targets, { bodies });
  const hem = 4 * garment.pointOfVertex[garment.pointOfVertex.length - 1]!;
  return {
    solver,
    prepare: (frame) => {
      const displacement = swayAt(frame * BENCH_FRAME);
      for (let i = 0; i < targets.length; i++)
        targets[i] = garment.restPositions[i]! + (displacement[i % 4] ?? 0);
      bodies = toCollision(poseLegs(frame * BENCH_FRAME));
    },
    step: () => solver.step(BENCH_FRAME, targets, { wind: AIR, bodies }),
    measureHem: () => solver.positions[hem + 1]!,
  };
}
