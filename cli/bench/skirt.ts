import {
  createPosedCollision,
  type JointShape,
  type PosedCollision,
  packCollision,
  poseCollision,
} from '../../core/bodies/index.ts';
import {
  type CompiledGarment,
  type CompileOptions,
  compileGarment,
  FABRIC_DEFAULTS,
  type FabricSettings,
} from '../../core/cloth/index.ts';
import { type Character, createRigidCharacter } from '../../core/rig/index.ts';

/** The workload of the bench: a skirt around two walking legs. */
export const BENCH_SUBSTEPS = 4;
export const BENCH_FRAME = 1 / 60;
/** Bodies: six to a leg. */
export const BENCH_BODIES = 12;

export const BENCH_FABRIC: FabricSettings = {
  ...FABRIC_DEFAULTS,
  stretchWarp: 1500,
  stretchWeft: 1500,
  shearStiffness: 750,
  // One pass over the bends in each substep, at every size, as the others make.
  bendStiffness: 1e-6,
  damping: 0.5,
  thickness: 0.004,
  substepsPerSecond: 60 * BENCH_SUBSTEPS,
  // Forces that the others do not have.
  airDrag: 0,
  airLift: 0,
  foldMemory: 0,
};

const WAIST_RADIUS = 0.17;
const HEM_RADIUS = 0.36;
const HEIGHT = 0.75;
const TOP = 1.0;
export const INWARD_DEPTH = 0.06;
export const INWARD_ROUNDNESS = 0.25;

/** A skirt of side² points: `side` around and `side` down, closed around, its top row held. */
export function createSkirt(side: number): Character {
  const positions = new Float32Array(3 * side * side);
  for (let r = 0; r < side; r++) {
    const down = r / (side - 1);
    const radius = WAIST_RADIUS + (HEM_RADIUS - WAIST_RADIUS) * down;
    for (let c = 0; c < side; c++) {
      const angle = (2 * Math.PI * c) / side;
      positions.set(
        [radius * Math.cos(angle), TOP - HEIGHT * down, radius * Math.sin(angle)],
        3 * (r * side + c),
      );
    }
  }
  const triangles: number[] = [];
  for (let r = 0; r + 1 < side; r++) {
    for (let c = 0; c < side; c++) {
      const a = r * side + c;
      const b = r * side + ((c + 1) % side);
      const [d, e] = [a + side, b + side];
      if ((r + c) % 2 === 0) triangles.push(a, e, d, a, b, e);
      else triangles.push(a, b, d, b, e, d);
    }
  }
  return createRigidCharacter('skirt', positions, Uint32Array.from(triangles));
}

export function compileSkirt(character: Character, options: CompileOptions = {}): CompiledGarment {
  return compileGarment(character, 0, options);
}

/** Max distance by the way down: 0 at the waist, 35 cm at the hem. [welded vertices]. */
export function gradeSkirt(character: Character): Float32Array {
  const { positions } = character.sections[0]!;
  return Float32Array.from({ length: positions.length / 3 }, (_, p) => {
    const down = (TOP - positions[3 * p + 1]!) / HEIGHT;
    return down < 1e-6 ? 0 : 0.05 + 0.3 * down;
  });
}

/** One body of the bench at a moment: ends in the world and radii. */
export interface BenchBody {
  a: [number, number, number];
  b: [number, number, number];
  radiusA: number;
  radiusB: number;
}

/** Two legs of six tapered capsules each, walking. @param time - Seconds. */
export function poseLegs(time: number): BenchBody[] {
  const bodies: BenchBody[] = [];
  for (const side of [-1, 1]) {
    const swing = side * 0.55 * Math.sin(2 * Math.PI * time);
    const hip: [number, number, number] = [side * 0.09, TOP - 0.02, 0];
    for (let k = 0; k < BENCH_BODIES / 2; k++) {
      const at = (s: number): [number, number, number] => [
        hip[0] + side * 0.02 * s,
        hip[1] - 0.85 * s * Math.cos(swing),
        hip[2] + 0.85 * s * Math.sin(swing),
      ];
      const [from, to] = [k / 6, (k + 1) / 6];
      bodies.push({ a: at(from), b: at(to), radiusA: 0.09 - 0.04 * from, radiusB: 0.09 - 0.04 * to });
    }
  }
  return bodies;
}

export function toCollision(bodies: readonly BenchBody[]): PosedCollision {
  const shapes = bodies.map((body): JointShape => ({ kind: 'taperedCapsule', node: 0, ...body }));
  const packed = packCollision(shapes);
  const posed = createPosedCollision(packed);
  poseCollision(packed, Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1), posed);
  return posed;
}

/** Way of the whole skirt at a moment: the hips sway. */
export function swayAt(time: number): [number, number, number] {
  return [0.03 * Math.sin(2 * Math.PI * time), 0.015 * Math.sin(4 * Math.PI * time), 0];
}
