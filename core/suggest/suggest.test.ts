import { expect } from 'chai';
import { createCapsuleHit, measureTaperedCapsule, type RoundShape } from '../bodies/index.ts';
import {
  composeMatrix,
  createRandom,
  distanceBetween,
  type MutableVector3,
  rotationFromAngles,
  transformPoint,
} from '../math/index.ts';
import { type Character, findMirrorPlane, reflect, SIDE_PAIRS, toReflection } from '../rig/index.ts';
import type { BodySkin, SkinPose } from './body-skin.ts';
import { BodyChooser, type ChoiceGoal } from './choose-bodies.ts';
import { fitCapsules, score } from './fit-capsules.ts';
import { type Candidate, listCandidates, type PlacedShape } from './list-candidates.ts';
import { measureCover } from './measure-cover.ts';
import type { Demand } from './measure-demand.ts';
import { toBodyRecords } from './suggestion.ts';

/** An upright tube of an ellipse. */
function createTrunk(halfWidth: number, halfDepth: number): Float32Array {
  const points: number[] = [];
  for (let y = 0; y <= 20; y++) {
    for (let k = 0; k < 40; k++) {
      const angle = (2 * Math.PI * k) / 40;
      points.push(halfWidth * Math.cos(angle), 0.015 * y, halfDepth * Math.sin(angle));
    }
  }
  return Float32Array.from(points);
}

describe('several capsules side by side', () => {
  it('fill what one cannot: a wide trunk', () => {
    const trunk = createTrunk(0.16, 0.115);
    const [one, two] = [1, 2].map((count) => fitCapsules(trunk, { count, margin: 0.006 })!);
    expect(one!.coverage).below(0.8);
    expect(two!.coverage).above(0.88);
    expect(two!.overhang).below(0.013);
    expect(score(two!)).below(score(one!));
    // Side by side along the width.
    const [first, second] = [0, 8].map((o) => (two!.rows[o]! + two!.rows[o + 4]!) / 2);
    expect(Math.abs(first! - second!)).above(0.08);
  });

  it('are judged as their places are by hand', () => {
    const trunk = createTrunk(0.16, 0.115);
    const { rows, coverage } = fitCapsules(trunk, { count: 2, margin: 0.006, most: 10_000 })!;
    const hit = createCapsuleHit();
    let covered = 0;
    for (let i = 0; i < trunk.length; i += 3) {
      const distances = [0, 8].map((o) => {
        measureTaperedCapsule(rows, o, trunk[i]!, trunk[i + 1]!, trunk[i + 2]!, hit);
        return hit.distance - 0.006;
      });
      if (Math.min(...distances) <= 0.005) covered++;
    }
    expect(coverage).closeTo(covered / (trunk.length / 3), 1e-9);
  });
});

describe('the plane between left and right', () => {
  const names = ['hips', 'leg_l', 'leg_r', 'arm_l', 'arm_r'];
  const places: MutableVector3[] = [
    [0, 1, 0.1],
    [0.1, 0.9, 0],
    [-0.1, 0.9, 0],
    [0.4, 1.4, -0.1],
    [-0.4, 1.4, -0.1],
  ];
  const at = (moved: readonly MutableVector3[]): Float64Array => {
    const matrices = new Float64Array(16 * moved.length);
    moved.forEach((place, n) => {
      matrices.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...place, 1], 16 * n);
    });
    return matrices;
  };

  it('is found by the names of joints, wherever the figure stands', () => {
    const turn = new Float64Array(16);
    composeMatrix(turn, 0, [3, 0.2, -1], 0, rotationFromAngles([0.2, 1.1, -0.4]), 0, [1, 1, 1], 0);
    const out = new Float64Array(3);
    const moved = places.map((place): MutableVector3 => {
      transformPoint(out, 0, turn, 0, ...place);
      return [out[0]!, out[1]!, out[2]!];
    });
    const plane = findMirrorPlane({ names }, at(moved))!;
    expect(distanceBetween(reflect(plane, moved[1]!), moved[2]!)).below(1e-6);
    expect(distanceBetween(reflect(plane, moved[0]!), moved[0]!)).below(1e-6);
    transformPoint(out, 0, toReflection(plane), 0, ...moved[3]!);
    expect(distanceBetween([out[0]!, out[1]!, out[2]!], moved[4]!)).below(1e-6);
  });

  it('is none where the sides are not alike, or nothing has a side', () => {
    const lopsided = places.map((place, i): MutableVector3 => (i === 4 ? [-0.1, 1.1, 0.3] : place));
    expect(findMirrorPlane({ names }, at(lopsided))).equal(null);
    expect(findMirrorPlane({ names: ['a', 'b', 'c', 'd', 'e'] }, at(places))).equal(null);
  });
});

/** A rod of skin along Y of two joints, the upper half of which bends away in the second pose. */
function createRod(): BodySkin {
  const random = createRandom(3);
  const points: number[] = [];
  const joints: number[] = [];
  for (let i = 0; i < 600; i++) {
    const [y, angle] = [random(), 2 * Math.PI * random()];
    points.push(0.05 * Math.cos(angle), y, 0.05 * Math.sin(angle));
    joints.push(y > 0.5 ? 1 : 0);
  }
  const positions = Float32Array.from(points);
  const bent = positions.map((value, i) =>
    joints[Math.floor(i / 3)] === 1 && i % 3 === 0 ? value + 1 : value,
  );
  const matrices = new Float64Array(32);
  for (const o of [0, 16]) matrices.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], o);
  const bentMatrices = matrices.slice();
  bentMatrices[16 + 12] = 1;
  const pose = (time: number, m: Float64Array, p: Float32Array): SkinPose => ({
    clip: null,
    time,
    matrices: m,
    positions: p,
    targets: [],
  });
  return {
    character: { skeleton: { names: ['lower', 'upper'], parents: [-1, 0] } } as unknown as Character,
    model: {} as BodySkin['model'],
    sidePairs: SIDE_PAIRS,
    positions,
    normals: new Float32Array(positions.length),
    areas: new Float32Array(600).fill(0.0314 / 600),
    joints: Int32Array.from(joints),
    poses: [pose(0, matrices, positions), pose(1, bentMatrices, bent)],
  };
}

const rod = (node: number, from: number, to: number): PlacedShape => ({
  node,
  margin: 0,
  shape: { kind: 'capsule', a: [0, from, 0], b: [0, to, 0], radiusA: 0.052, radiusB: 0.052 },
});

describe('how bodies cover skin over the poses', () => {
  const skin = createRod();

  it('counts every pose: one rod for both joints loses half of them in one of two', () => {
    const long = measureCover(skin, [rod(0, 0.05, 0.95)]);
    const [lower, upper] = [0, 1].map((joint) => {
      const own = Array.from(long.covered).filter((_, p) => skin.joints[p] === joint);
      return own.reduce((sum, value) => sum + value, 0) / own.length;
    });
    // All but what is beyond its round ends.
    expect(lower).within(0.9, 1);
    expect(upper).closeTo(lower! / 2, 0.02);
    // Half of 0.0157 m² of skin is left, in half of the poses.
    expect(long.stray).closeTo(0.00785, 0.0008);
    const two = measureCover(skin, [rod(0, 0.05, 0.45), rod(1, 0.55, 0.95)]);
    expect(two.stray).below(0.0001);
    expect(two.covered.filter((value) => value > 0.99).length).above(480);
  });

  it('adds the margin', () => {
    const thin = { ...rod(0, 0.05, 0.45), margin: -0.03 };
    expect(Math.max(...measureCover(skin, [thin]).covered)).equal(0);
  });
});

/** Two legs below hips, each a tube of skin of its own joint. */
function createLegs(): BodySkin {
  const random = createRandom(5);
  const names = ['hips', 'leg_l', 'leg_r'];
  const points: number[] = [];
  const joints: number[] = [];
  for (let i = 0; i < 800; i++) {
    const node = 1 + (i % 2);
    const [y, angle] = [random(), 2 * Math.PI * random()];
    points.push((node === 1 ? 0.1 : -0.1) + 0.06 * Math.cos(angle), -0.5 * y, 0.06 * Math.sin(angle));
    joints.push(node);
  }
  const positions = Float32Array.from(points);
  const character = {
    skeleton: {
      names,
      parents: Int32Array.of(-1, 0, 0),
      translations: Float64Array.of(0, 0, 0, 0.1, 0, 0, -0.1, 0, 0),
      rotations: Float64Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1),
      scales: new Float64Array(9).fill(1),
    },
    sections: [],
    skins: [],
    clips: [],
  } as unknown as Character;
  return {
    character,
    model: {} as BodySkin['model'],
    sidePairs: SIDE_PAIRS,
    positions,
    normals: new Float32Array(positions.length),
    areas: new Float32Array(800).fill(0.0004),
    joints: Int32Array.from(joints),
    poses: [],
  };
}

describe('candidates', () => {
  const skin = createLegs();
  const list = (reach: (node: number) => number, mirrors = true): Candidate[] => {
    const work = listCandidates(skin, {
      reach: Float32Array.from(skin.joints, reach),
      margin: 0.005,
      mirrors,
      kinds: ['capsule'],
    });
    for (;;) {
      const step = work.next();
      if (step.done) return step.value;
    }
  };
  const nodesOf = (candidates: readonly Candidate[]): number[][] =>
    candidates.map(({ bodies }) => bodies.map(({ node }) => node));

  it('are pairs where both sides can be touched, alike in the world, of the kinds that may be used', () => {
    const [pair, ...others] = list(() => 1);
    expect(others).deep.equal([]);
    expect(nodesOf([pair!])).deep.equal([[1, 2]]);
    const [left, right] = pair!.bodies.map(({ shape }) => shape as RoundShape);
    expect(left!.kind).equal('capsule');
    expect(left!.radiusA).closeTo(0.06, 0.004);
    expect(right!.a[0]).closeTo(-left!.a[0], 1e-6);
    expect(right!.b[1]).closeTo(left!.b[1], 1e-6);
  });

  it('are of one side alone where cloth comes to one only, or sides are not to be alike', () => {
    expect(nodesOf(list((node) => (node === 2 ? 1 : 0)))).deep.equal([[2]]);
    expect(nodesOf(list((node) => (node === 1 ? 1 : 0)))).deep.equal([[1]]);
    expect(nodesOf(list(() => 1, false))).deep.equal([[1], [2]]);
    expect(list(() => 0)).deep.equal([]);
  });
});

describe('the choice of bodies', () => {
  const skin = createRod();
  const candidates: Candidate[] = [
    { key: '0', bodies: [rod(0, 0.05, 0.45)] },
    { key: '1', bodies: [rod(1, 0.55, 0.95)] },
    { key: '0+1', bodies: [rod(0, 0.05, 0.95)] },
    { key: '1', bodies: [rod(1, 0.55, 0.75), rod(1, 0.75, 0.95)] },
  ];
  const reach = new Float32Array(600).fill(1);
  const choose = (goal: Partial<ChoiceGoal> = {}, kept: readonly PlacedShape[] = []): BodyChooser =>
    new BodyChooser(skin, {
      candidates,
      reach,
      kept,
      goal: { bodies: 4, penetration: 0, showThrough: 0, ...goal },
    });
  const demand = (open: readonly number[], depth = 0.02): Demand => ({
    clip: 0,
    weights: Float32Array.from(skin.joints, (joint) => open[joint]! / 300),
    showThrough: open[0]! + open[1]!,
    mostShowThrough: 1,
    deepest: null,
    penetration: depth,
    cost: 1,
  });

  it('takes what covers most of what is open, one after another', () => {
    const chooser = choose();
    expect(chooser.bodies).deep.equal([]);
    expect(chooser.take([demand([0.01, 0.001])])).equal(true);
    expect(chooser.bodies[0]).deep.equal(candidates[0]!.bodies[0]);
    expect(chooser.take([demand([0, 0.004])])).equal(true);
    expect(chooser.bodies.map(({ node }) => node)).deep.equal([0, 1]);
    expect(chooser.tried.map(({ bodies }) => bodies.length)).deep.equal([0, 1]);
  });

  it('goes for the deepest place when it is deep, though more is open elsewhere', () => {
    const upper = skin.joints.indexOf(1);
    const at = (depth: number): Demand => ({ ...demand([0.0008, 0]), deepest: { point: upper, depth } });
    for (const [depth, node] of [
      [0.02, 1],
      [0.003, 0],
    ] as const) {
      const chooser = choose();
      chooser.take([at(depth)]);
      expect(chooser.bodies[0]!.node, `${depth}`).equal(node);
    }
    // What is asked for says what is deep.
    const chooser = choose({ penetration: 0.03 });
    chooser.take([at(0.02)]);
    expect(chooser.bodies[0]!.node).equal(0);
  });

  it('ends when the limits hold on every clip', () => {
    const chooser = choose({ penetration: 0.003, showThrough: 0.001 });
    expect(chooser.take([demand([0.0005, 0], 0.002), demand([0.01, 0], 0.002)])).equal(true);
    expect(chooser.take([demand([0.0005, 0], 0.002), demand([0, 0], 0.001)])).equal(false);
  });

  it('never has more than were asked for, and builds on those that are kept', () => {
    const kept = [rod(0, 0.05, 0.45)];
    const chooser = choose({ bodies: 2 }, kept);
    expect(chooser.bodies).deep.equal(kept);
    // The lower half is covered by what is kept: the upper one is next, though less is open there.
    expect(chooser.take([demand([0.01, 0.004])])).equal(true);
    expect(chooser.bodies.map(({ node }) => node)).deep.equal([0, 1]);
    expect(chooser.take([demand([0.01, 0.004])])).equal(false);
  });

  it('does not take a body that stands out where the skin leaves it, for a little more at first', () => {
    const chooser = choose();
    chooser.take([demand([0.004, 0.004])]);
    expect(chooser.bodies).not.deep.include(candidates[2]!.bodies[0]);
  });
});

describe('records of a suggested set', () => {
  it('are named after their joints, those of one joint numbered; kept ones are not made again', () => {
    let count = 0;
    const records = toBodyRecords(
      [rod(1, 0, 1), rod(0, 0, 1), rod(1, 1, 2), { ...rod(0, 3, 4), recordId: 'kept' as never }],
      { names: ['lower', 'upper'] } as Character['skeleton'],
      'set' as never,
      () => `id-${++count}` as never,
    );
    expect(records.map(({ name, jointName }) => [name, jointName])).deep.equal([
      ['lower', 'lower'],
      ['upper 1', 'upper'],
      ['upper 2', 'upper'],
    ]);
    expect((records[2]!.shape as RoundShape).b).deep.equal([0, 2, 0]);
  });
});
