import { expect } from 'chai';
import {
  type AuthoredDocument,
  type GarmentLevel,
  listGarments,
  PLAIN_LEVEL,
  type RecordId,
} from '../document/index.ts';
import { coarsenGarment } from '../prepare/index.ts';
import { poseSection } from '../rig/index.ts';
import { createScene } from '../trials/test-scene.ts';
import { type CharacterRun, GarmentCache, type RunSetup, setUpRun, startRun } from './index.ts';

const FRAMES = 30;

/** A sheet that a ball goes through, as it is and on a coarser mesh. */
function createLevels() {
  const { document, setup } = createScene({ hasBody: true });
  const [garment] = listGarments(document);
  const settings = { edgeLength: 0.09, borderDetail: 0.5 };
  const made = coarsenGarment(setup.base, document, garment!, settings);
  // One character has the meshes of all levels, so its own sections are those of before.
  const own = { ...document, records: new Map(document.records) };
  own.records.set(garment!.id, { ...garment!, renders: [] });
  return {
    character: made.character,
    own,
    coarse: made.document,
    id: garment!.id,
    cache: new GarmentCache(),
  };
}

function setUp(
  { character, id, cache }: ReturnType<typeof createLevels>,
  document: AuthoredDocument,
  level: Partial<GarmentLevel> = {},
): RunSetup {
  return setUpRun(document, character, {
    cache,
    levels: new Map([[id, { ...PLAIN_LEVEL, pixels: 100, ...level }]]),
  });
}

function start(setup: RunSetup, frames = FRAMES): CharacterRun {
  const run = startRun(setup);
  run.play(0);
  run.reset();
  for (let frame = 0; frame < frames; frame++) run.step();
  return run;
}

/** What is drawn of the sheet, [n, 3]. */
function draw(run: CharacterRun): Float32Array {
  const { setup } = run.garments[0]!;
  const section = run.character.sections[0]!;
  const [x, n] = [new Float32Array(section.positions.length), new Float32Array(section.positions.length)];
  if (setup.renders && setup.renders.length > 0) run.writeRender(0, 0, x, n);
  else run.writeVertices(0, x, n);
  for (let o = 0; o < n.length; o += 3) expect(Math.hypot(n[o]!, n[o + 1]!, n[o + 2]!)).closeTo(1, 1e-4);
  return x;
}

/** m; how far the vertex goes that goes farthest. */
function farthest(p: Float32Array, q: Float32Array): number {
  let most = 0;
  for (let o = 0; o < p.length; o += 3)
    most = Math.max(most, Math.hypot(p[o]! - q[o]!, p[o + 1]! - q[o + 1]!, p[o + 2]! - q[o + 2]!));
  return most;
}

describe('levels of a running garment', () => {
  const levels = createLevels();
  const { own, coarse } = levels;

  it('change the settings that they name, and nothing else', () => {
    const [plain] = setUp(levels, own).garments;
    const [thin] = setUp(levels, own, {
      substepsPerSecond: 120,
      selfCollision: false,
      withoutBodies: ['ball' as RecordId],
      rate: 'thirty',
      blend: 0.5,
    }).garments;
    expect(thin!.fabric).deep.equal({ ...plain!.fabric, substepsPerSecond: 120, selfDistance: 0 });
    expect(plain!.bodies.map(({ id }) => id)).deep.equal(['ball']);
    expect(thin!.bodies).deep.equal([]);
    expect([thin!.rate, thin!.blend]).deep.equal(['thirty', 0.5]);
    expect(thin!.maxDistances).deep.equal(plain!.maxDistances);
  });

  it('that are off draw the skin, and cost nothing', () => {
    const run = start(setUp(levels, coarse, { blend: 0 }));
    expect(farthest(draw(run), poseSection(run.character, 0, run.pose))).most(1e-6);
    const [work] = run.takeWork().garments;
    for (const [kind, count] of Object.entries(work!.counts)) expect(count, kind).equal(0);
  });

  it('at every other frame do half of what is done by the frame, and hang as they do at every frame', () => {
    const [full, half] = [start(setUp(levels, own), 0), start(setUp(levels, own, { rate: 'everyOther' }), 0)];
    for (const run of [full, half]) {
      run.play(null);
      for (let frame = 0; frame < 180; frame++) run.step(0);
    }
    expect(farthest(draw(full), draw(half))).most(0.01);
    const [all, some] = [full, half].map((run) => run.takeWork().garments[0]!.counts);
    expect(some!.frames).equal(all!.frames / 2);
    expect(some!.substeps).equal(all!.substeps);
    expect(some!.drawnVertices).equal(all!.drawnVertices);
  });

  it('at every other frame move in every frame, no more in one than in the next', () => {
    const run = start(setUp(levels, own, { rate: 'everyOther' }));
    const speeds: number[] = [];
    let before = draw(run);
    for (let frame = 0; frame < 20; frame++) {
      run.step();
      const now = draw(run);
      speeds.push(farthest(now, before));
      before = now;
    }
    speeds.slice(1).forEach((speed, i) => {
      expect(speed / speeds[i]!, `frame ${i}`).within(0.4, 2.5);
    });
  });
});

describe('going over from one level to another', () => {
  const levels = createLevels();
  const { own, coarse } = levels;

  it('begins where the other is, on whatever mesh, and ends where the new one is', () => {
    for (const [from, to] of [
      [setUp(levels, own), setUp(levels, coarse)],
      [setUp(levels, coarse), setUp(levels, own)],
      [setUp(levels, coarse), setUp(levels, coarse, { blend: 0 })],
      [setUp(levels, coarse, { blend: 0 }), setUp(levels, coarse)],
    ] as const) {
      const runs = [start(from), start(from), start(to)] as const;
      const [run] = runs;
      const before = draw(run);
      run.switchTo(to, 0.25);
      expect(farthest(draw(run), before)).most(1e-6);
      let [own, apart, speed] = [0, 0, 0];
      let last = runs.map(draw);
      for (let frame = 0; frame < 15; frame++) {
        for (const each of runs) each.step();
        const now = runs.map(draw);
        const ways = now.map((places, i) => farthest(places, last[i]!));
        speed = Math.max(speed, ways[0]!);
        own = Math.max(own, ways[1]!, ways[2]!);
        apart = Math.max(apart, farthest(now[1]!, now[2]!));
        last = now;
      }
      // What lies between the two is gone over smoothly, not twice as fast as evenly; the rest is their own motion.
      expect(speed).most(own + (1.9 * apart) / 15);
      expect(run.isSwitching).equal(false);
      // From now on it is the new one alone.
      const [garment] = run.garments;
      expect(garment!.setup).equal(to.garments[0]);
    }
  });

  it('goes on from the very same state on the same mesh, with nothing to hide', () => {
    const from = setUp(levels, own);
    const [run, same] = [start(from), start(from)];
    run.switchTo(setUp(levels, own, { selfCollision: false, substepsPerSecond: 300 }), 0.25);
    expect(run.isSwitching).equal(false);
    expect(farthest(draw(run), draw(same))).equal(0);
    const { pointCount } = run.garments[0]!.setup.compiled;
    const speed = (one: CharacterRun): Float32Array =>
      one.garments[0]!.solver.velocities.slice(0, 4 * pointCount);
    expect(speed(run)).deep.equal(speed(same));
  });

  it('leaves a garment alone whose level stays what it is', () => {
    const run = start(setUp(levels, own));
    const [garment] = run.garments;
    run.switchTo(setUp(levels, own), 0.25);
    expect(run.garments[0]).equal(garment);
    expect(run.isSwitching).equal(false);
  });

  it('counts what both do while it lasts, and forgets none of it', () => {
    const [from, to] = [setUp(levels, own), setUp(levels, coarse)];
    const run = start(from);
    run.takeWork();
    run.switchTo(to, 0.2);
    for (let frame = 0; frame < 20; frame++) run.step();
    const [both] = run.takeWork().garments;
    const count = (setup: RunSetup, frames: number): number => {
      const one = start(setup, 0);
      for (let frame = 0; frame < frames; frame++) one.step();
      return one.takeWork().garments[0]!.counts.edges;
    };
    expect(both!.counts.edges).equal(count(from, 12) + count(to, 20));
    expect(both!.counts.frames).equal(12 + 20);
  });

  it('refuses another character, or other garments', () => {
    const run = start(setUp(levels, own));
    const { setup } = createScene({});
    expect(() => run.switchTo(setup, 0.2)).throw(RangeError, 'levels of the same garments');
  });
});
