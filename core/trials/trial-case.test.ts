import { expect } from 'chai';
import { getScene } from '../document/index.ts';
import { startRun } from '../run/index.ts';
import { countFrames, getFrameSeconds, TRIAL_RATES } from './frame-rate.ts';
import { runTrial } from './run-trial.ts';
import { createScene, type Scene } from './test-scene.ts';
import {
  countCaseFrames,
  createCase,
  createCaseDocument,
  findMoment,
  nameCase,
  type TrialMotion,
} from './trial-case.ts';
import { createPlan, listCases } from './trial-plan.ts';

/** The ball that goes through the sheet, with a second clip in which it stands 20 cm to the side, and a third that does not close. */
function createClips(): Scene['setup'] {
  const { setup } = createScene({ hasBody: true, from: -0.3, to: -0.05 });
  const [push] = setup.base.clips;
  const [track] = push!.tracks;
  const aside = { ...track!, values: Float32Array.of(0.2, 0, -0.2, 0.2, 0, -0.2, 0.2, 0, -0.2) };
  const away = { ...track!, values: Float32Array.of(0, 0, -0.3, 0, 0.1, -0.3, 0, 0.2, -0.3) };
  const clips = [
    push!,
    { ...push!, name: 'aside', tracks: [aside] },
    { ...push!, name: 'away', tracks: [away] },
  ];
  return {
    ...setup,
    character: { ...setup.character, clips },
    base: { ...setup.base, clips },
  };
}

describe('cases of a trial', () => {
  const setup = createClips();

  it('are every clip as it is set, then with one thing different at a time', () => {
    const character = { ...setup.base };
    const cases = listCases(createPlan(character));
    const names = cases.map((each) => nameCase(each, character));
    expect(names.slice(0, 3)).deep.equal(['push', 'aside', 'away']);
    expect(names).include.members(['push · still air', 'aside · strong wind', 'away · 30 fps']);
    expect(names).include.members(['push · 120 fps', 'push · uneven frames']);
    expect(new Set(names).size).equal(names.length);
    expect(names.length).equal(3 * (1 + 2 + 3));
    // What was not asked for is not played.
    const [only, ...none] = listCases({
      motions: [{ kind: 'clip', clip: 1 }],
      shapes: [],
      winds: [],
      rates: [30],
    });
    expect([nameCase(only!, character), none.length]).deep.equal(['aside · 30 fps', 0]);
    const blend: TrialMotion = { kind: 'blend', from: 0, to: 1, at: 0.4, seconds: 0.25 };
    expect(nameCase(createCase(blend, { shape: { broad: 1 } }), character)).equal(
      'push to aside at 0.40 s in 0.25 s · broad 100 %',
    );
  });

  it('change the scene for themselves alone', () => {
    const { document } = createScene({});
    const motion: TrialMotion = { kind: 'clip', clip: 0 };
    expect(createCaseDocument(document, createCase(motion))).equal(document);
    const changed = createCaseDocument(
      document,
      createCase(motion, { wind: 'strong', shape: { broad: 0.5 } }),
    );
    expect(getScene(changed)).include({ windSpeed: 8 });
    expect(getScene(changed).morphs).deep.equal({ broad: 0.5 });
    expect(getScene(document)).include({ windSpeed: 0 });
    expect(changed.arrays).equal(document.arrays);
  });

  it('take as long at every frame rate', () => {
    for (const rate of TRIAL_RATES) {
      const count = countFrames(rate, 3.21);
      let time = 0;
      for (let frame = 0; frame < count; frame++) time += getFrameSeconds(rate, frame);
      expect(time, `${rate}`).closeTo(3.21, 0.05);
    }
  });

  it('are simulated at their frame rate: more frames, each as long as it says, with the cloth where it is at 60', () => {
    const play = (rate: 30 | 60 | 120 | 'uneven') => [
      ...runTrial(setup, { motion: { kind: 'clip', clip: 0 }, rate }),
    ];
    const usual = play(60);
    expect(usual.length).equal(60);
    for (const [rate, count] of [
      [30, 30],
      [120, 120],
    ] as const) {
      const frames = play(rate);
      expect(frames.length).equal(count);
      expect(frames[1]!.time - frames[0]!.time).closeTo(1 / rate, 1e-6);
      expect(Math.max(...frames.map(({ penetration }) => penetration))).below(0.006);
    }
    const uneven = play('uneven');
    const gaps = uneven.slice(1).map(({ time }, i) => Math.round(1000 * (time - uneven[i]!.time)));
    expect(gaps).include.members([8, 17, 25, 50]);
  });
});

describe('a blend between clips', () => {
  const setup = createClips();

  it('has no jump: the skinned garment and what it meets go over smoothly, from a clip that does not close too', () => {
    for (const [from, at] of [
      [0, 0.4],
      [2, 0.95],
    ] as const) {
      const run = startRun(setup);
      run.play(from, at);
      run.step();
      const node = (): number[] => [28, 29, 30].map((i) => run.pose.worldMatrices[i]!);
      let before = node();
      let most = 0;
      run.blendTo(1, 0.25);
      // What is seen before the next frame is where it was.
      for (const [k, value] of node().entries()) expect(value).closeTo(before[k]!, 1e-6);
      for (let frame = 0; frame < 30; frame++) {
        run.step();
        const now = node();
        most = Math.max(most, Math.hypot(...now.map((value, k) => value - before[k]!)));
        before = now;
      }
      // 40 cm and less in a quarter of a second, besides the clip's own half a metre a second.
      expect(most).within(0.01, 0.06);
      expect(before[0]).closeTo(0.2, 1e-6);
    }
  });

  it('is measured from half a second before it begins to a second after its end', () => {
    const motion: TrialMotion = { kind: 'blend', from: 0, to: 1, at: 0.6, seconds: 0.25 };
    const frames = [...runTrial(setup, { motion })];
    expect(frames.length).equal(105);
    expect(frames.at(-1)!.time).closeTo(1.75, 1e-6);
    expect(frames.every(({ scatter }) => scatter === null)).equal(true);
    expect(Math.max(...frames.map(({ penetration }) => penetration))).below(0.006);
    expect(frames[10]!.jitter).below(0.001);
    // Early in its clip there is less before.
    expect([...runTrial(setup, { motion: { ...motion, at: 0.1 } })].length).equal(81);
  });

  it('has as many frames as are told beforehand, and each moment of it is one of a clip', () => {
    const character = setup.base;
    const blend = { kind: 'blend', from: 0, to: 1, at: 0.6, seconds: 0.25 } as const;
    for (const motion of [blend, { ...blend, at: 0.1 }, { kind: 'clip', clip: 2 } as const])
      for (const rate of TRIAL_RATES) {
        const each = createCase(motion, { rate });
        expect(countCaseFrames(each, character), JSON.stringify(each)).equal(
          [...runTrial(setup, each)].length,
        );
      }
    expect(findMoment({ kind: 'clip', clip: 2 }, 0.4, character)).deep.equal({ clip: 2, time: 0.4 });
    const before = findMoment(blend, 0.2, character);
    expect(before.clip).equal(0);
    expect(before.time).closeTo(0.3, 1e-9);
    const after = findMoment(blend, 0.7, character);
    expect(after.clip).equal(1);
    expect(after.time).closeTo(0.2, 1e-9);
  });

  it('is the same every time', () => {
    const motion: TrialMotion = { kind: 'blend', from: 0, to: 2, at: 0.3, seconds: 0.1 };
    expect([...runTrial(setup, { motion })]).deep.equal([...runTrial(setup, { motion })]);
  });
});
