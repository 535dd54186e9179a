import { expect } from 'chai';
import { createDocument } from '../document/index.ts';
import { createCheckedMesh, measureSurface, weldPoints } from '../mesh/index.ts';
import {
  bindSection,
  type Character,
  invertBind,
  measureFigure,
  type Section,
  toDenseWeights,
} from '../rig/index.ts';
import {
  collectOuterSurface,
  createSectionMesh,
  makeSimSurface,
  packSurface,
  resampleSection,
  unpackSurface,
} from '../steps/index.ts';
import { checkSection, Preparation, prepareCharacter, transferChannel } from './index.ts';
import { addStep, createSkirt, createWardrobe } from './test-wardrobe.ts';

const SKIRT = 1;

function kindsOf(character: Character): string[] {
  return checkSection(character, SKIRT)
    .filter(({ severity }) => severity !== 'note')
    .map(({ kind }) => kind);
}

/** The wardrobe with one side of the skirt's seam moved by a hair. */
function createTorn(): Character {
  const skirt = createSkirt();
  for (let v = 40; v < skirt.positions.length / 3; v += 41)
    skirt.positions[3 * v] = skirt.positions[3 * v]! + 0.0006;
  return createWardrobe(skirt);
}

describe('the wardrobe of these tests', () => {
  it('stands in bind pose as it was made, and its places can be taken back to its own space', () => {
    const character = createWardrobe();
    const world = bindSection(character, SKIRT);
    const made = createSkirt().positions;
    for (let i = 0; i < world.length; i++) expect(world[i]).closeTo(made[i]!, 1e-6);
    const own = invertBind(character, 0, world);
    for (let i = 0; i < own.length; i++)
      expect(own[i]).closeTo(character.sections[SKIRT]!.positions[i]!, 1e-6);
    expect(kindsOf(character)).deep.equal([]);
  });
});

describe('preparation', () => {
  it('places the whole, whatever became of the section that the step is named of, and before all else', () => {
    const source = createWardrobe();
    const document = createDocument();
    addStep(document, 'long gone', { kind: 'place', scale: 0.01, up: '+Y' }, 9);
    addStep(document, 'Skirt', { kind: 'restInPose', clipName: 'bow' });
    const { character, placed, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    const [was, is] = [source, character].map((one) => measureFigure(one).height);
    expect(is! / was!).closeTo(0.01, 1e-5);
    // What no other step touches is as it was placed.
    expect(character.sections[0]).equal(placed.sections[0]);
    expect(placed).not.equal(source);
  });

  it('replays steps on a source that it never changes, and shares what a step does not touch', () => {
    const source = createTorn();
    const before = structuredClone(source);
    expect(kindsOf(source)).deep.equal(['unweldedSeam']);
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'weld' });
    addStep(document, 'Skirt', { kind: 'evenOut', edgeLength: 0.03 });
    addStep(document, 'Skirt', { kind: 'makeSimMesh', edgeLength: 0.05, borderDetail: 0.5, others: [] });
    const { character, problems, faults } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    expect(faults).deep.equal([]);
    expect(source).deep.equal(before);
    expect(kindsOf(character)).deep.equal([]);
    expect(character.sections[0]).equal(source.sections[0]);
    expect(character.sections.map(({ name }) => name)).deep.equal(['Leg', 'Skirt', 'Skirt sim']);
    expect(character.sections[2]!.isSimMesh).equal(true);
    const again = prepareCharacter(source, document).character;
    expect(again.sections[2]!.positions).deep.equal(character.sections[2]!.positions);
  });

  it('tells of a step what it lost of the mesh', () => {
    const document = createDocument();
    const coarse = addStep(document, 'Skirt', { kind: 'evenOut', edgeLength: 1.5 });
    const { problems, faults } = prepareCharacter(createWardrobe(), document);
    expect(problems).deep.equal([]);
    expect(faults.map(({ stepId }) => stepId)).deep.equal([coarse]);
    expect(faults[0]!.sentences.join(' ')).match(/Its area is \d+ % less than the source's/);
  });

  it('computes again only what follows the first changed step', () => {
    const preparation = new Preparation(createTorn());
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'weld' });
    const last = addStep(document, 'Leg', { kind: 'limitWeights', influences: 1, least: 0 }, 0);
    const first = preparation.update(document).character;
    const shares: number[] = [];
    expect(preparation.update(document, (share) => shares.push(share)).character).equal(first);
    expect(shares).deep.equal([]);
    document.records.delete(last);
    const fewer = preparation.update(document).character;
    expect(fewer.sections[SKIRT]).equal(first.sections[SKIRT]);
    expect(fewer.sections[0]).equal(preparation.source.sections[0]);
  });

  it('leaves out a step that cannot be applied, tells why, and goes on', () => {
    const document = createDocument();
    const lost = addStep(document, 'Apron', { kind: 'weld' });
    const wrong = addStep(document, 'Skirt', {
      kind: 'handOverWeights',
      keptJoints: ['hip'],
      toJoint: 'tail',
    });
    addStep(document, 'Skirt', { kind: 'weld' });
    const { character, problems } = prepareCharacter(createTorn(), document);
    expect(problems.map(({ stepId, reason }) => [stepId, reason])).deep.equal([
      [lost, 'there is no section "Apron"'],
      [wrong, 'the skin of "Skirt" has no joint "tail"'],
    ]);
    expect(kindsOf(character)).deep.equal([]);
  });

  it('finds a section by its name when it stands elsewhere', () => {
    const source = createTorn();
    const turned = { ...source, sections: [source.sections[1]!, source.sections[0]!] };
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'weld' });
    const { character, problems } = prepareCharacter(turned, document);
    expect(problems).deep.equal([]);
    expect(checkSection(character, 0).map(({ kind }) => kind)).not.include('unweldedSeam');
  });

  it('uses the surface kept beside a step instead of making it anew', () => {
    const source = createWardrobe();
    const document = createDocument();
    const id = addStep(document, 'Skirt', {
      kind: 'makeSimMesh',
      edgeLength: 0.05,
      borderDetail: 0.5,
      others: [],
    });
    const coarse = makeSimSurface(collectOuterSurface(source, [SKIRT]), {
      edgeLength: 0.12,
      borderDetail: 0,
    });
    document.arrays.set(id, packSurface(coarse));
    const sim = prepareCharacter(source, document).character.sections[2]!;
    expect(weldPoints(sim.positions).pointCount).equal(coarse.positions.length / 3);
    expect(unpackSurface(packSurface(coarse))).deep.equal(coarse);
    expect(unpackSurface(packSurface(coarse).slice(1))).equal(null);
    expect(unpackSurface(undefined)).equal(null);
  });
});

describe('steps of preparation', () => {
  const apply = (source: Character, act: Parameters<typeof addStep>[2]): Section => {
    const document = createDocument();
    addStep(document, 'Skirt', act);
    const { character, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    return character.sections[SKIRT]!;
  };

  it('join the sides of a seam in the middle, weights and all', () => {
    const torn = createTorn();
    const count = weldPoints(torn.sections[SKIRT]!.positions).pointCount;
    const welded = apply(torn, { kind: 'weld' });
    expect(weldPoints(welded.positions).pointCount).equal(count - 25);
    expect(welded.uvs![2 * 40]).equal(1);
    expect(welded.positions.slice(0, 3)).deep.equal(welded.positions.slice(120, 123));
  });

  it('take weights from the body, hand them over, smooth and limit them', () => {
    const source = createWardrobe();
    const moved = apply(source, { kind: 'transferWeights', maxDistance: 0.2, maxAngle: 0.6, influences: 4 });
    const dense = toDenseWeights(moved, 2);
    const bind = bindSection(source, SKIRT);
    // Close to the leg the weights are the leg's own at that height.
    for (let v = 0; v < 200; v++) expect(dense[2 * v + 1]).closeTo(-bind[3 * v + 1]! / 0.7, 0.05);
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'transferWeights', maxDistance: 0.05, maxAngle: 0.6, influences: 4 });
    addStep(document, 'Skirt', { kind: 'handOverWeights', keptJoints: [], toJoint: 'hip' });
    const handed = prepareCharacter(source, document).character.sections[SKIRT]!;
    expect(toDenseWeights(handed, 2).every((weight, i) => weight === (i % 2 === 0 ? 1 : 0))).equal(true);
    const one = apply(
      { ...source, sections: [source.sections[0]!, moved] },
      { kind: 'limitWeights', influences: 1, least: 0 },
    );
    for (let v = 0; v < 100; v++) expect(one.jointWeights[4 * v]).equal(1);
    const smooth = apply(
      { ...source, sections: [source.sections[0]!, one] },
      { kind: 'smoothWeights', strength: 0.5, times: 6 },
    );
    const shares = new Set(Array.from(toDenseWeights(smooth, 2), (weight) => weight.toFixed(2)));
    expect(shares.size).above(6);
  });

  it('take the lengths at rest from the pose of a clip', () => {
    const source = createWardrobe();
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'transferWeights', maxDistance: 0.05, maxAngle: 0.6, influences: 4 });
    const bent = prepareCharacter(source, document).character;
    expect(kindsOf(bent)).deep.equal(['poseStretch']);
    addStep(document, 'Skirt', { kind: 'restInPose', clipName: 'bow' });
    expect(kindsOf(prepareCharacter(source, document).character)).deep.equal([]);
    const lost = createDocument();
    addStep(lost, 'Skirt', { kind: 'restInPose', clipName: 'gone' });
    expect(prepareCharacter(source, lost).problems[0]!.reason).equal('there is no clip "gone"');
  });
});

describe('a section over another surface', () => {
  const source = createWardrobe();
  const skirt = source.sections[SKIRT]!;
  skirt.morphs = [{ name: 'wide', positions: skirt.positions.map((value) => 0.2 * value), normals: null }];
  skirt.morphWeights = Float32Array.of(0);
  const surface = makeSimSurface(collectOuterSurface(source, [SKIRT]), {
    edgeLength: 0.04,
    borderDetail: 0.5,
  });
  const made = resampleSection(source, [SKIRT], surface);

  it('has the places of the surface in its own space, and one point for each', () => {
    const world = bindSection({ ...source, sections: [made] }, 0);
    const { pointCount, vertexOfPoint } = weldPoints(made.positions);
    expect(pointCount).equal(surface.positions.length / 3);
    const places = new Set<string>();
    const name = (p: ArrayLike<number>, i: number): string =>
      [0, 1, 2].map((k) => p[i + k]!.toFixed(4)).join();
    for (let i = 0; i < surface.positions.length; i += 3) places.add(name(surface.positions, i));
    const lost = Array.from(vertexOfPoint).filter((vertex) => !places.has(name(world, 3 * vertex)));
    expect(lost.length).below(0.02 * pointCount);
  });

  it('has no triangle across the seam of the UVs', () => {
    expect(made.uvs!.length / 2).above(surface.positions.length / 3);
    for (let t = 0; t < made.triangles.length; t += 3) {
      const us = [0, 1, 2].map((k) => made.uvs![2 * made.triangles[t + k]!]!);
      expect(Math.max(...us) - Math.min(...us)).below(0.15);
    }
    expect(
      checkSection({ ...source, sections: [source.sections[0]!, made] }, SKIRT).map(({ kind }) => kind),
    ).not.include('uvOverlap');
  });

  it('carries weights and morphs', () => {
    const dense = toDenseWeights(made, 2);
    for (let v = 0; v < dense.length / 2; v++) expect(dense[2 * v]).closeTo(1, 1e-6);
    const [morph] = made.morphs;
    for (let i = 0; i < made.positions.length; i++)
      expect(morph!.positions[i]).closeTo(0.2 * made.positions[i]!, 2e-3);
  });

  it('is refused for sections of different skins', () => {
    const other = { ...source, sections: [{ ...source.sections[0]!, skin: 1 }, skirt] };
    expect(() => resampleSection(other, [1, 0], surface)).throw(RangeError, 'different skins');
  });
});

describe('painted values carried to another mesh', () => {
  it('stay where they were, and what was held stays held', () => {
    const source = createWardrobe();
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'makeSimMesh', edgeLength: 0.035, borderDetail: 0.8, others: [] });
    const { character } = prepareCharacter(source, document);
    const before = createSectionMesh(source, SKIRT);
    const ramp = (y: number): number => Math.max(0, -y - 0.1);
    const values = Float32Array.from({ length: before.pointCount }, (_, p) =>
      ramp(before.pointPositions[3 * p + 1]!),
    );
    const transferred = transferChannel(
      { character: source, sectionIndex: SKIRT },
      { character, sectionIndex: 2 },
      values,
    );
    const after = createSectionMesh(character, 2);
    expect(transferred.length).equal(after.pointCount);
    transferred.forEach((value, p) => {
      expect(value).closeTo(ramp(after.pointPositions[3 * p + 1]!), 0.012);
      if (after.pointPositions[3 * p + 1]! > -0.075) expect(value).equal(0);
    });
    const back = transferChannel(
      { character, sectionIndex: 2 },
      { character: source, sectionIndex: SKIRT },
      transferred,
    );
    for (const [p, value] of back.entries()) expect(value).closeTo(values[p]!, 0.02);
  });
});

describe('a sim mesh', () => {
  it('stands for the outer side only of a two-sided garment', () => {
    const skirt = createSkirt();
    const count = skirt.positions.length / 3;
    const inner = skirt.positions.map((value, i) => (i % 3 === 1 ? value : 0.98 * value));
    const turned = skirt.triangles.map((_, i) => skirt.triangles[i - (i % 3) + [0, 2, 1][i % 3]!]! + count);
    // The grid of the tests faces inward when rolled up: its copy within is the one that must be turned about.
    const probe = createCheckedMesh({ ...skirt, uvs: null });
    const facing = facesOutward(probe)
      ? [...skirt.triangles, ...turned]
      : [...flip(skirt.triangles), ...flip(turned)];
    const two = createWardrobe({
      positions: Float32Array.from([...skirt.positions, ...inner]),
      triangles: Uint32Array.from(facing),
      uvs: Float32Array.from([
        ...skirt.uvs,
        ...skirt.uvs.map((value, i) => (i % 2 === 0 ? value + 1.2 : value)),
      ]),
    });
    // Weights from the body: the inside has those of the outside before it.
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'transferWeights', maxDistance: 0.2, maxAngle: 0.6, influences: 4 });
    const dense = toDenseWeights(prepareCharacter(two, document).character.sections[SKIRT]!, 2);
    for (let v = 0; v < 2 * count; v++) expect(dense[v]).closeTo(dense[2 * count + v]!, 1e-6);
    expect(dense[2 * count - 1]).above(0.5);
    const surface = makeSimSurface(collectOuterSurface(two, [SKIRT]), {
      edgeLength: 0.04,
      borderDetail: 0.5,
    });
    for (let i = 0; i < surface.positions.length; i += 3) {
      const radius = Math.hypot(surface.positions[i]!, surface.positions[i + 2]!);
      expect(radius).closeTo(0.12 - surface.positions[i + 1]! / 6, 0.0015);
    }
    expect(measureSurface(surface, 0.04).withinTarget).above(0.9);
  });
});

function flip(triangles: ArrayLike<number>): number[] {
  return Array.from(triangles as Uint32Array, (_, i) => triangles[i - (i % 3) + [0, 2, 1][i % 3]!]!);
}

function facesOutward({ pointPositions: positions, faces }: ReturnType<typeof createCheckedMesh>): boolean {
  const [a, b, c] = [0, 1, 2].map((k) => 3 * faces[k]!) as [number, number, number];
  const u = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!) as [number, number, number];
  const v = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!) as [number, number, number];
  return (u[1] * v[2] - u[2] * v[1]) * positions[a]! + (u[0] * v[1] - u[1] * v[0]) * positions[a + 2]! > 0;
}
