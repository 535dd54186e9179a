import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import type { Character } from '../rig/index.ts';
import { setUpRun } from '../run/index.ts';
import { runTrial, type TrialFrame } from './run-trial.ts';

/** A sheet hung by one edge beside a ball that a clip moves through it and back. */
function createScene(
  hasBody: boolean,
  /** Draws another sheet in its place, so many metres nearer to the ball. */
  nearer: number | null = null,
): {
  character: Character;
  frames: TrialFrame[];
  settle: () => TrialFrame[];
} {
  const sheet = createSheet(12, 12, (u, v) => [0.6 * u - 0.3, 0.3 - 0.6 * v, 0]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  const ball = createTestCharacter(...createBall(0.12));
  character.skeleton = {
    names: ['root', 'ball'],
    parents: Int32Array.of(-1, 0),
    translations: new Float64Array(6),
    rotations: Float64Array.of(0, 0, 0, 1, 0, 0, 0, 1),
    scales: new Float64Array(6).fill(1),
  };
  character.skins.push({ ...ball.skins[0]!, joints: Uint32Array.of(1) });
  character.sections.push({ ...ball.sections[0]!, name: 'ball', node: 1, skin: 1, meshIndex: 1 });
  character.clips.push({
    name: 'push',
    duration: 1,
    tracks: [
      {
        node: 1,
        path: 'translation',
        interpolation: 'LINEAR',
        times: Float32Array.of(0, 0.5, 1),
        values: Float32Array.of(0, 0, -0.3, 0, 0, 0.05, 0, 0, -0.3),
      },
    ],
  });
  const document = createDocument();
  let count = 0;
  const made = createGarment(character, document, 0, () => `id-${++count}` as RecordId);
  if (nearer !== null) {
    const drawn = character.sections[0]!;
    const positions = drawn.positions.map((value, i) => (i % 3 === 2 ? value - nearer : value));
    character.sections.push({ ...drawn, name: 'drawn', positions, meshIndex: 2 });
    made.garment.renders = [{ sectionIndex: 2, sectionName: 'drawn' }];
  }
  insertGarment(
    document,
    made,
    Float32Array.from(made.maxDistances, (_, p) => (p < 13 ? 0 : 0.5)),
  );
  if (hasBody) {
    const id = 'ball' as RecordId;
    const shape = {
      kind: 'sphere',
      node: 1,
      a: [0, 0, 0],
      b: [0, 0, 0],
      radiusA: 0.125,
      radiusB: 0.125,
    } as const;
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: made.bodySet!.id,
      name: 'ball',
      jointName: 'ball',
      shape: { ...shape, a: [0, 0, 0], b: [0, 0, 0] },
    });
  }
  const settle = (): TrialFrame[] => [...runTrial(setUpRun(document, character), { clip: 0 })];
  return { character, frames: settle(), settle };
}

function createBall(radius: number): [Float32Array, Uint32Array] {
  const sheet = createSheet(24, 12, (u, v) => {
    const [angle, height] = [2 * Math.PI * u, Math.PI * v];
    const ring = radius * Math.sin(height);
    // The seam and the poles are one place each, so that the ball is closed when welded.
    const around = u === 1 ? 0 : angle;
    return v === 0 || v === 1
      ? [0, radius * Math.cos(height), 0]
      : [ring * Math.cos(around), radius * Math.cos(height), -ring * Math.sin(around)];
  });
  return [sheet.positions, sheet.triangles];
}

describe('trials', () => {
  const bare = createScene(false);

  it('measure how deep the cloth lies in what passes through it', () => {
    const most = Math.max(...bare.frames.map((frame) => frame.penetration));
    // The ball goes 5 cm past a sheet that nothing stops: as deep as its far side is from the sheet, 12 - 5 cm.
    expect(most).within(0.06, 0.125);
    const worst = bare.frames.find((frame) => frame.penetration === most)!;
    expect(Math.hypot(worst.deepest!.position[0], worst.deepest!.position[1])).below(0.1);
    expect(bare.frames[0]!.penetration).equal(0);
    expect(bare.frames[0]!.deepest).equal(null);
  });

  it('fall to the thickness of a hair once a body stands for it', () => {
    const { frames } = createScene(true);
    expect(Math.max(...frames.map((frame) => frame.penetration))).below(0.004);
    expect(Math.max(...frames.map((frame) => frame.stretch))).above(0.0005);
  });

  it('measure what is drawn in the place of a sim mesh, and name the simulated point that it leans on', () => {
    const most = (frames: TrialFrame[]): TrialFrame =>
      frames.reduce((worst, frame) => (frame.penetration > worst.penetration ? frame : worst));
    const same = most(createScene(true, 0).frames);
    expect(same.penetration).closeTo(most(createScene(true).frames).penetration, 1e-4);
    const near = most(createScene(true, 0.02).frames);
    // 2 cm nearer, less how far the body and the cloth's thickness keep the sim mesh out.
    expect(near.penetration).within(same.penetration + 0.005, same.penetration + 0.02);
    expect(near.deepest!.point).within(0, 13 * 13 - 1);
    const [column, row] = [near.deepest!.point % 13, Math.floor(near.deepest!.point / 13)];
    expect(
      Math.hypot(
        0.05 * column - 0.3 - near.deepest!.position[0],
        0.3 - 0.05 * row - near.deepest!.position[1],
      ),
    ).below(0.08);
  });

  it('give the same numbers for the same inputs', () => {
    expect(bare.settle()).deep.equal(bare.frames);
  });
});
