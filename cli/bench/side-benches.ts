import type { JointShape } from '../../core/bodies/index.ts';
import { compileGarment } from '../../core/cloth/index.ts';
import type { RecordId } from '../../core/document/index.ts';
import type { Character, Clip, Track } from '../../core/rig/index.ts';
import { CharacterRun, FRAME_RATE, type GarmentSetup } from '../../core/run/index.ts';
import { createClothRunner } from './cloth-runner.ts';
import { readCpu, summarise } from './measure.ts';
import { type BenchLength, interleave } from './run-bench.ts';
import { BENCH_FABRIC, createSkirt, gradeSkirt, poseLegs } from './skirt.ts';

/** What self-collision costs, over what all the rest costs. */
export function benchSelfCollision(side: number, length: BenchLength): { vertices: number; ratio: number } {
  const character = createSkirt(side);
  const times = interleave(
    {
      without: createClothRunner(character, 'kernel'),
      with: createClothRunner(character, 'kernel', { selfDistance: 0.012 }),
    },
    length,
  );
  const added = times.with.map((time, round) => time / times.without[round]! - 1);
  return { vertices: side * side, ratio: Number(summarise(added).median.toFixed(2)) };
}

/** Three skirts of 1,521 points one over the other, with 12 bodies each, at the substeps that a new fabric has. */
export function createThreeSkirts(): { character: Character; setups: GarmentSetup[] } {
  const character = createSkirt(THREE_SIDE);
  const [skirt] = character.sections;
  for (const scale of [1.12, 1.25]) {
    character.sections.push({
      ...skirt!,
      name: `skirt ${scale}`,
      meshName: `skirt ${scale}`,
      meshIndex: character.sections.length,
      positions: skirt!.positions.map((value, i) => (i % 3 === 1 ? value : value * scale)),
    });
  }
  const bodies = poseLegs(0.1).map((body): JointShape => ({ kind: 'taperedCapsule', node: 0, ...body }));
  const setups = character.sections.map(
    (section, index): GarmentSetup => ({
      id: section.name as RecordId,
      name: section.name,
      compiled: compileGarment(character, index),
      fabric: { ...BENCH_FABRIC, bendStiffness: 2e-5, substepsPerSecond: 360, airDrag: 1, airLift: 0.8 },
      maxDistances: gradeSkirt(character),
      bodies,
      blend: 1,
    }),
  );
  character.clips.push(createSway());
  return { character, setups };
}

const THREE_SIDE = 39;

/** The hips roll from side to side. */
function createSway(): Clip {
  const [turn, rest] = [Math.sin(0.15), Math.cos(0.15)];
  const values = Float32Array.of(0, 0, turn, rest, 0, 0, -turn, rest, 0, 0, turn, rest);
  const track: Track = {
    node: 0,
    path: 'rotation',
    interpolation: 'LINEAR',
    times: Float32Array.of(0, 0.5, 1),
    values,
  };
  return { name: 'sway', duration: 1, tracks: [track] };
}

/**
 * The three skirts through a `CharacterRun` with skinning and render vertices: what the preview does in a frame.
 * @returns Simulated frames that one core makes in a second.
 */
export function benchThreeGarments(frames: number): {
  vertices: number;
  framesPerSecond: number;
  needed: number;
} {
  const { character, setups } = createThreeSkirts();
  const run = new CharacterRun(character, setups);
  run.wind = { windSpeed: 2, windDirection: 30, windGusts: 0.5, windTurbulence: 0.5 };
  run.play(0);
  const { length } = character.sections[0]!.positions;
  const [vertices, normals] = [new Float32Array(length), new Float32Array(length)];
  const advance = (): void => {
    run.step();
    for (let garment = 0; garment < 3; garment++) run.writeVertices(garment, vertices, normals);
  };
  for (let i = 0; i < 30; i++) advance();
  const start = readCpu();
  for (let i = 0; i < frames; i++) advance();
  const framesPerSecond = Math.round((1e6 * frames) / (readCpu() - start));
  return { vertices: length, framesPerSecond, needed: FRAME_RATE };
}
