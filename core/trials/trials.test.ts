import { expect } from 'chai';
import { createGarment, insertGarment, listGarments, listRecords, type RecordId } from '../document/index.ts';
import { type RunSetup, setUpRun, startRun } from '../run/index.ts';
import { runTrial } from './run-trial.ts';
import { createScene } from './test-scene.ts';
import { findWorstGarment, type GarmentFrame, type TrialFrame } from './trial-frame.ts';
import { TrialMeasure } from './trial-measure.ts';

/** A held sheet in the y-z plane's front that a clip moves through another held sheet: from 1 cm behind it to 2 cm before it. */
function createLayers(): RunSetup {
  const { setup, document } = createScene({ from: -0.01, to: 0.02, bind: -0.01 });
  const [sheet] = setup.base.sections;
  const [held, ball] = [sheet!, setup.base.sections[1]!];
  const inner = { ...held, name: 'inner', node: ball.node, skin: ball.skin, meshIndex: 2 };
  const character = { ...setup.base, sections: [held, inner] };
  const [outer] = listGarments(document);
  let count = 0;
  const made = createGarment(character, document, 1, () => `inner-${++count}` as RecordId);
  insertGarment(document, made, new Float32Array(169));
  document.records.set(made.garment.id, { ...made.garment, order: 0 });
  document.records.set(outer!.id, { ...outer!, order: 1 });
  const [map] = listRecords(document, 'channel').filter(({ garmentId }) => garmentId === outer!.id);
  document.arrays.set(map!.id, new Float32Array(169));
  return setUpRun(document, character);
}

describe('trials', () => {
  const bare = createScene({});

  it('measure how deep the cloth lies in what passes through it', () => {
    const most = Math.max(...bare.frames.map((frame) => frame.penetration));
    // The ball goes 5 cm past a sheet that nothing stops: as deep as its far side is from the sheet, 12 - 5 cm.
    expect(most).within(0.06, 0.125);
    const worst = bare.frames.find((frame) => frame.penetration === most)!;
    const { position } = worst.garments[0]!.places.penetration!;
    expect(Math.hypot(position[0], position[1])).below(0.1);
    expect(bare.frames[0]!.penetration).equal(0);
    expect(bare.frames[0]!.garments[0]!.places.penetration).equal(undefined);
  });

  it('fall to the thickness of a hair once a body stands for it', () => {
    const { frames } = createScene({ hasBody: true });
    expect(Math.max(...frames.map((frame) => frame.penetration))).below(0.004);
    expect(Math.max(...frames.map((frame) => frame.stretch))).above(0.0005);
  });

  it('measure what is drawn in the place of a sim mesh, and name the simulated point that it leans on', () => {
    const most = (frames: TrialFrame[]): TrialFrame =>
      frames.reduce((worst, frame) => (frame.penetration > worst.penetration ? frame : worst));
    const same = most(createScene({ hasBody: true, nearer: 0 }).frames);
    expect(same.penetration).closeTo(most(createScene({ hasBody: true }).frames).penetration, 1e-4);
    const near = most(createScene({ hasBody: true, nearer: 0.02 }).frames);
    // 2 cm nearer, less how far the body and the cloth's thickness keep the sim mesh out.
    expect(near.penetration).within(same.penetration + 0.005, same.penetration + 0.02);
    const { position, point } = near.garments[0]!.places.penetration!;
    expect(point).within(0, 13 * 13 - 1);
    const [column, row] = [point! % 13, Math.floor(point! / 13)];
    expect(Math.hypot(0.05 * column - 0.3 - position[0], 0.3 - 0.05 * row - position[1])).below(0.08);
  });

  it('tell how far a loop is from repeating itself: nothing where it has settled, as a run says, and not at all of clips that do not close', () => {
    const settled = createScene({ to: -0.25, damping: 8 });
    for (const { scatter } of settled.frames) expect(scatter).below(2e-4);

    const free = createScene({ hasBody: true, damping: 0 });
    const run = startRun(free.setup);
    run.play(0);
    run.reset();
    for (let i = 0; i < 30; i++) run.step(0);
    const rounds = [0, 1, 2].map(() => {
      const places = free.frames.map(() => {
        run.step();
        return run.garments[0]!.solver.positions.slice(0, 4 * 169);
      });
      run.seek(0);
      return places;
    });
    free.frames.forEach(({ scatter }, frame) => {
      const [p, q] = [rounds[1]![frame]!, rounds[2]![frame]!];
      const squares = p.map((value, i) => (i % 4 === 3 ? 0 : (value - q[i]!) ** 2));
      expect(scatter).closeTo(Math.sqrt(squares.reduce((sum, each) => sum + each, 0) / 169), 1e-7);
    });
    expect(Math.max(...free.frames.map(({ scatter }) => scatter!))).above(2e-3);

    for (const { scatter } of createScene({ isOpen: true }).frames) expect(scatter).equal(null);
  });

  it('tell how far a garment stands out of the one that is worn over it, and where, of that one alone', () => {
    const frames = [...runTrial(createLayers(), { motion: { kind: 'clip', clip: 0 } })];
    for (const { time, layers } of frames) {
      const height = 0.02 - 0.06 * Math.abs(time - 0.5);
      expect(layers).closeTo(Math.max(0, height), 5e-4);
    }
    const worst = frames.reduce((p, q) => (q.layers > p.layers ? q : p));
    const [inner, outer] = worst.garments;
    expect([inner!.layers, inner!.showThrough]).deep.equal([0, 0]);
    expect(outer!.layers).equal(worst.layers);
    expect(findWorstGarment(worst, 'layers')).equal(outer);
    expect(outer!.places.layers!.position[2]).closeTo(worst.layers, 1e-3);
    // 60 cm square, its rim apart.
    expect(worst.showThrough).within(0.25, 0.361);
    expect(worst.penetration).equal(0);
  });

  it('tell the most stretched edge, and the area of cloth that lies in the skin', () => {
    const { frames } = createScene({ hasBody: true });
    for (const { stretch, worstEdge, garments } of frames) {
      expect(worstEdge).at.least(stretch);
      expect(garments[0]!.places.worstEdge?.amount ?? 0).equal(worstEdge);
    }
    // The ball's disc in the plane of a sheet that nothing stops: at most as wide as the ball, 12 cm.
    const most = Math.max(...bare.frames.map(({ penetrationArea }) => penetrationArea));
    expect(most).within(0.5 * Math.PI * 0.12 ** 2, 1.4 * Math.PI * 0.12 ** 2);
    expect(bare.frames[0]!.penetrationArea).equal(0);
  });

  it('count the vertices that lie on bodies', () => {
    const { frames } = createScene({ hasBody: true });
    expect(Math.max(...frames.map(({ contacts }) => contacts))).within(4, 60);
    expect(bare.frames.every(({ contacts }) => contacts === 0)).equal(true);
  });

  it('know which bodies were touched before anything was measured, as the cloth lies as they left it', () => {
    const { setup } = createScene({ hasBody: true });
    const [push] = setup.base.clips[0]!.tracks;
    // The ball stands in the sheet while it settles, and goes off in the first measured frame, for half a second at least.
    Object.assign(push!, { interpolation: 'STEP', times: Float32Array.of(0, 0.01, 1) });
    push!.values = Float32Array.of(0, 0, 0.05, 0, 0, -1, 0, 0, -1);
    const bodiesOf = (setup: RunSetup) =>
      [...runTrial(setup, { motion: { kind: 'clip', clip: 0 } })]
        .slice(1, 30)
        .flatMap(({ work }) => work.garments[0]!.bodies);
    const left = bodiesOf(setup);
    expect(left.every(({ touched }) => touched === 0)).equal(true);
    expect(left.every(({ isTouchedBefore }) => isTouchedBefore)).equal(true);
    push!.values[2] = -1;
    expect(bodiesOf(setup).some(({ isTouchedBefore }) => isTouchedBefore)).equal(false);
  });

  it('give the same numbers for the same inputs', () => {
    expect([...runTrial(bare.setup, { motion: { kind: 'clip', clip: 0 } })]).deep.equal(bare.frames);
  });

  it('look roughly at a clip that closes before they measure it, when asked to, and measure the same', () => {
    for (const options of [{ hasBody: true }, { nearer: 0.004, to: 0.1 }]) {
      const { setup, frames } = createScene(options);
      const told = [...runTrial(setup, { motion: { kind: 'clip', clip: 0 }, glances: true })];
      const glances = told.filter(({ isGlance }) => isGlance);
      expect(told.slice(glances.length)).deep.equal(frames);
      expect(glances.length).equal(7);
      // What a run of its own does in its first round, each frame looked at by itself.
      const run = startRun(setup);
      const measure = new TrialMeasure(run, setup.bodySections);
      run.play(0);
      run.reset();
      for (let frame = 0; frame < 30; frame++) run.step(0);
      measure.noteCovers();
      for (const [k, glance] of glances.entries()) {
        for (let frame = k === 0 ? 0 : 8 * k - 3; frame <= 8 * k + 4; frame++) run.step();
        measure.forget();
        const [{ stretch, penetration, showThrough }] = measure.measure().garments as [GarmentFrame];
        expect(glance).include({ time: frames[8 * k + 4]!.time, stretch, penetration, showThrough });
        expect(glance.jitter).within(0, 0.02);
      }
      // Settled as far as that, it is much like what is measured.
      const worst = (all: readonly TrialFrame[]) => Math.max(...all.map(({ stretch }) => stretch));
      expect(worst(glances)).within(0.7 * worst(frames), 1.4 * worst(frames));
    }
    const { setup, frames } = createScene({ isOpen: true });
    expect([...runTrial(setup, { motion: { kind: 'clip', clip: 0 }, glances: true })]).deep.equal(frames);
  });
});
