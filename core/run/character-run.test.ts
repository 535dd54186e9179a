import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import type { Character, Track } from '../rig/index.ts';
import { type CharacterRun, FRAME_RATE } from './character-run.ts';
import { createRun } from './create-run.ts';
import { NO_RUN_TIMES, sumTimes } from './run-times.ts';

/** A flag held at its top edge on one joint, with clips given by the places of that joint. */
function createFlag(clips: Record<string, { times: number[]; positions: number[] }>): {
  character: Character;
  run: () => CharacterRun;
} {
  const sheet = createSheet(6, 6, (u, v) => [0.5 * u, 1 - 0.5 * v, 0]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  for (const [name, { times, positions }] of Object.entries(clips)) {
    const track: Track = {
      node: 0,
      path: 'translation',
      interpolation: 'LINEAR',
      times: Float32Array.from(times),
      values: Float32Array.from(positions),
    };
    character.clips.push({ name, duration: times[times.length - 1]!, tracks: [track] });
  }
  const document = createDocument();
  let count = 0;
  const made = createGarment(character, document, 0, () => `id-${++count}` as RecordId);
  insertGarment(
    document,
    made,
    made.maxDistances.map((_, p) => (p < 7 ? 0 : 0.3)),
  );
  return { character, run: () => createRun(document, character) };
}

/** Largest distance of any point from its skinned place, metres. */
function measureDrift(run: CharacterRun): number {
  const { solver, targets } = run.garments[0]!;
  let most = 0;
  for (let i = 0; i < targets.length; i += 4) {
    most = Math.max(most, Math.hypot(...[0, 1, 2].map((k) => solver.positions[i + k]! - targets[i + k]!)));
  }
  return most;
}

describe('a character in motion', () => {
  const swing = { times: [0, 0.5, 1], positions: [0, 0, 0, 0, 0, 0.3, 0, 0, 0] };
  const walk = { times: [0, 1], positions: [0, 0, 0, 0.4, 0, 3] };
  const leap = { times: [0, 1], positions: [0, 0, 0, 0, 0.9, 0] };

  it('plays a clip at sixty frames a second, round and round', () => {
    const run = createFlag({ swing }).run();
    run.play(0);
    for (let i = 0; i < FRAME_RATE / 2; i++) run.step();
    expect(run.time).closeTo(0.5, 1e-9);
    expect(run.pose.worldMatrices[14]).closeTo(0.3, 1e-6);
    for (let i = 0; i < FRAME_RATE; i++) run.step();
    expect(run.time).closeTo(0.5, 1e-6);
    run.step(0.5);
    expect(run.time).closeTo(0.5 + 0.5 / 60, 1e-6);
    run.step(0);
    expect(run.time).closeTo(0.5 + 0.5 / 60, 1e-6);
  });

  it('holds a travelling clip in place and says how far the ground moves', () => {
    const run = createFlag({ walk }).run();
    run.play(0);
    expect(run.travel[0]).closeTo(0.4, 1e-6);
    expect(run.travel[1]).closeTo(3, 1e-6);
    for (let i = 0; i < 150; i++) {
      run.step();
      expect(Math.hypot(run.pose.worldMatrices[12]!, run.pose.worldMatrices[14]!)).below(1e-6);
    }
    // Carried evenly and without air, the flag hangs as if it stood; the air that it meets pushes it back.
    const depth = ({ garments }: CharacterRun): number => {
      const { solver, setup } = garments[0]!;
      let sum = 0;
      for (let i = 0; i < setup.compiled.pointCount; i++) sum += solver.positions[4 * i + 2]!;
      return sum / setup.compiled.pointCount;
    };
    const standing = createFlag({}).run();
    const inVoid = createFlag({ walk }).run();
    inVoid.play(0);
    for (const { solver } of [standing, inVoid].map(({ garments }) => garments[0]!)) {
      solver.setFabric({ ...solver.fabric, airDrag: 0, airLift: 0 });
    }
    for (let i = 0; i < 150; i++) for (const made of [standing, inVoid]) made.step();
    const [x, y] = [inVoid, standing].map(({ garments }) => garments[0]!.solver.positions);
    for (let i = 0; i < x!.length; i++) expect(x![i]).closeTo(y![i]!, 1e-4);
    expect(depth(run)).below(depth(standing) - 0.02);
  });

  it('carries the cloth along when a loop does not close, and on a seek', () => {
    const run = createFlag({ leap }).run();
    run.play(0);
    for (let i = 0; i < 59; i++) run.step();
    const before = measureDrift(run);
    run.step();
    run.step();
    expect(run.time).below(0.1);
    // 0.9 m back in one frame: without being carried the points would hang at their limit, 0.3 m off.
    expect(measureDrift(run)).below(before + 0.02);
    run.seek(0.8);
    expect(measureDrift(run)).below(before + 0.03);
  });

  it('lags behind a swing of its own weight, which a bind pose at rest does not', () => {
    const run = createFlag({ swing }).run();
    for (let i = 0; i < 120; i++) run.step();
    const still = measureDrift(run);
    run.play(0);
    let most = 0;
    for (let i = 0; i < 120; i++) {
      run.step();
      most = Math.max(most, measureDrift(run));
    }
    expect(still).below(0.02);
    expect(most).above(still + 0.05);
  });

  it('puts the cloth back on the skin when reset', () => {
    const run = createFlag({ swing }).run();
    run.play(0);
    for (let i = 0; i < 40; i++) run.step();
    expect(measureDrift(run)).above(0.01);
    run.reset();
    expect(measureDrift(run)).equal(0);
  });

  it('is the same from frame to frame whenever it is played', () => {
    const { run } = createFlag({ swing, walk });
    const play = (): Float32Array => {
      const made = run();
      made.wind = { windSpeed: 2, windDirection: 30, windGusts: 0.6, windTurbulence: 0.4 };
      made.play(1);
      for (let i = 0; i < 50; i++) made.step();
      made.play(0, 0.3);
      for (let i = 0; i < 50; i++) made.step();
      return made.garments[0]!.solver.positions;
    };
    expect(play()).deep.equal(play());
  });

  it('measures what spends the time, and nothing without a clock', () => {
    const { character } = createFlag({ swing });
    let now = 0;
    const document = createDocument();
    const made = createGarment(character, document, 0, () => `id-${now++}` as RecordId);
    insertGarment(document, made);
    now = 0;
    const run = createRun(document, character, { clock: () => ++now });
    run.takeTimes();
    run.step();
    const { total, garments } = run.takeTimes();
    for (const part of ['stretch', 'bend', 'reach', 'air', 'skinning'] as const) expect(total[part]).above(0);
    expect(garments[0]).equal(sumTimes(total) - total.skinning);
    expect(run.takeTimes().total).deep.equal(NO_RUN_TIMES);
  });

  it('refuses a clip that is not there', () => {
    expect(() => createFlag({ swing }).run().play(3)).throw(RangeError, 'There is no clip 3');
  });

  it('writes render vertices from their points, with normals of unit length', () => {
    const { character, run } = createFlag({});
    const made = run();
    const { positions } = character.sections[0]!;
    const [out, normals] = [new Float32Array(positions.length), new Float32Array(positions.length)];
    made.writeVertices(0, out, normals);
    expect(out).deep.equal(positions);
    for (let i = 0; i < normals.length; i += 3) expect(Math.abs(normals[i + 2]!)).closeTo(1, 1e-6);
  });
});
