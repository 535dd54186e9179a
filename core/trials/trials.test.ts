import { expect } from 'chai';
import { startRun } from '../run/index.ts';
import { runTrial, type TrialFrame } from './run-trial.ts';
import { createScene } from './test-scene.ts';

describe('trials', () => {
  const bare = createScene({});

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
    expect(near.deepest!.point).within(0, 13 * 13 - 1);
    const [column, row] = [near.deepest!.point % 13, Math.floor(near.deepest!.point / 13)];
    expect(
      Math.hypot(
        0.05 * column - 0.3 - near.deepest!.position[0],
        0.3 - 0.05 * row - near.deepest!.position[1],
      ),
    ).below(0.08);
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

  it('give the same numbers for the same inputs', () => {
    expect([...runTrial(bare.setup, { clip: 0 })]).deep.equal(bare.frames);
  });
});
