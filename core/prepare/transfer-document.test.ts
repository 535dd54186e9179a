import { expect } from 'chai';
import type { RoundShape } from '../bodies/index.ts';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  findChannel,
  insertGarment,
  listBodies,
  listGarments,
  listRecords,
  listSteps,
  type RecordId,
} from '../document/index.ts';
import { adoptClips, type Character } from '../rig/index.ts';
import { createSectionMesh } from '../steps/index.ts';
import { makeArrays, Preparation, prepareCharacter, transferDocument } from './index.ts';
import { addStep, createSkirt, createWardrobe } from './test-wardrobe.ts';

const SKIRT = 1;

/** The skirt as a garment, painted from the waist down, with a body on the knee and a sim mesh. */
function author(character: Character): AuthoredDocument {
  const document = createDocument();
  let ids = 0;
  const made = createGarment(character, document, SKIRT, () => `id-${++ids}` as RecordId);
  insertGarment(document, made);
  const { pointPositions: positions, pointCount } = createSectionMesh(character, SKIRT);
  document.arrays.set(
    made.channel.id,
    Float32Array.from({ length: pointCount }, (_, p) => Math.max(0, -positions[3 * p + 1]! - 0.05)),
  );
  const body = 'body' as RecordId;
  document.records.set(body, {
    type: 'body',
    id: body,
    bodySetId: made.bodySet!.id,
    name: 'knee',
    jointName: 'knee',
    shape: { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1 },
    margin: 0,
    group: 1,
  });
  return document;
}

function paintedOf(document: AuthoredDocument): Float32Array {
  return document.arrays.get(findChannel(document, listGarments(document)[0]!.id)!.id)!;
}

describe('a new version of a source', () => {
  it('that is the same says so, and changes nothing', () => {
    const source = createWardrobe();
    const document = author(source);
    const { document: transferred, review } = transferDocument(source, createWardrobe(), document);
    expect(review.sections.map(({ name, state, isMoved }) => [name, state, isMoved])).deep.equal([
      ['Leg', 'same', false],
      ['Skirt', 'same', false],
    ]);
    expect(review.sections[1]!.uses).deep.equal(['Skirt']);
    expect(review).deep.include({ bodies: [], clipsGone: [], clipsNew: [], unbound: [], problems: [] });
    expect(paintedOf(transferred)).deep.equal(paintedOf(document));
  });

  it('with a finer mesh, in another order, keeps painted values where they are', () => {
    const source = createWardrobe();
    const document = author(source);
    const finer = createWardrobe(createSkirt(64, 36));
    const turned = { ...finer, sections: [finer.sections[1]!, finer.sections[0]!] };
    const before = structuredClone(document);
    const { document: transferred, review } = transferDocument(source, turned, document);
    expect(document).deep.equal(before);
    const skirt = review.sections.find(({ name }) => name === 'Skirt')!;
    expect(skirt).deep.include({ state: 'changed', isMoved: true });
    expect(skirt.pointsAfter).above(2 * skirt.pointsBefore);
    expect(skirt.farthest).within(1e-5, 0.01);
    expect(listGarments(transferred)[0]!.sectionIndex).equal(0);
    const values = paintedOf(transferred);
    const { pointPositions: positions, pointCount } = createSectionMesh(turned, 0);
    expect(values.length).equal(pointCount);
    expect(listRecords(transferred, 'channel')[0]!.pointCount).equal(pointCount);
    for (let p = 0; p < pointCount; p++)
      expect(values[p]).closeTo(Math.max(0, -positions[3 * p + 1]! - 0.05), 0.012);
  });

  it('makes a sim mesh over what changed anew, and values on it stay in place', () => {
    const source = createWardrobe();
    const document = author(source);
    addStep(document, 'Skirt', { kind: 'makeSimMesh', edgeLength: 0.05, borderDetail: 0.5, others: [] });
    const step = listSteps(document)[0]!;
    const first = transferDocument(source, createWardrobe(), document).document;
    expect(first.arrays.has(step.id)).equal(true);
    const garment = listGarments(first)[0]!;
    const simmed = { sectionIndex: 2, sectionName: 'Skirt sim' };
    const drawn = { sectionIndex: 1, sectionName: 'Skirt' };
    first.records.set(garment.id, { ...garment, ...simmed, renders: [drawn] });
    const sim = createSectionMesh(prepareCharacter(source, first).character, 2);
    const channel = findChannel(first, garment.id)!;
    first.arrays.set(
      channel.id,
      Float32Array.from({ length: sim.pointCount }, (_, p) => -sim.pointPositions[3 * p + 1]!),
    );
    const longer = createSkirt();
    for (let i = 1; i < longer.positions.length; i += 3) longer.positions[i] = 1.1 * longer.positions[i]!;
    const next = createWardrobe(longer);
    const { document: transferred, review } = transferDocument(source, next, first);
    expect(review.problems).deep.equal([]);
    expect(transferred.arrays.get(step.id)).not.deep.equal(first.arrays.get(step.id));
    const { character, problems } = prepareCharacter(next, transferred);
    expect(problems).deep.equal([]);
    const now = createSectionMesh(character, 2);
    expect(Math.min(...now.pointPositions.filter((_, i) => i % 3 === 1))).closeTo(-0.66, 0.01);
    const values = transferred.arrays.get(channel.id)!;
    expect(values.length).equal(now.pointCount);
    for (let p = 0; p < now.pointCount; p++)
      expect(values[p]).closeTo(Math.min(0.6, -now.pointPositions[3 * p + 1]!), 0.02);
  });

  it('makes a body mesh over what changed anew, in its place among the sections', () => {
    const before = createWardrobe();
    const document = author(before);
    const bodySetId = listRecords(document, 'bodySet')[0]!.id;
    const act = {
      kind: 'makeBodyMesh',
      name: 'Body mesh',
      vertexCount: 80,
      without: [],
      others: [],
    } as const;
    const stepId = addStep(document, 'Leg', { ...act, without: [], others: [] }, 0);
    const id = 'mesh' as RecordId;
    const place = { sectionIndex: 2, sectionName: 'Body mesh' };
    document.records.set(id, {
      type: 'bodyMesh',
      id,
      bodySetId,
      name: 'Leg mesh',
      stepId,
      ...place,
      margin: 0.002,
      group: 1,
    });
    makeArrays(new Preparation(before), document);
    const made = document.arrays.get(stepId)!;
    // Thicker, and with another section before all others.
    const leg = before.sections[0]!;
    const thick = { ...leg, positions: leg.positions.map((value, i) => (i % 3 === 1 ? value : 1.2 * value)) };
    const badge = { ...before.sections[1]!, name: 'Badge', node: 2, primitiveIndex: 1 };
    const after = { ...before, sections: [badge, thick, before.sections[1]!] };
    const { document: transferred, review } = transferDocument(before, after, document);
    expect(review.problems).deep.equal([]);
    expect(transferred.records.get(id)).include({ sectionIndex: 3, sectionName: 'Body mesh', margin: 0.002 });
    const again = transferred.arrays.get(stepId)!;
    expect(again).not.deep.equal(made);
    const { character } = prepareCharacter(after, transferred);
    const places = createSectionMesh(character, 3).pointPositions;
    let sum = 0;
    for (let i = 0; i < places.length; i += 3) sum += Math.hypot(places[i]!, places[i + 2]!);
    expect(sum / (places.length / 3)).closeTo(0.12, 0.003);
  });

  it('without a section leaves its garment as it is and tells; a match by hand brings it over', () => {
    const source = createWardrobe();
    const document = author(source);
    addStep(document, 'Skirt', { kind: 'weld' });
    const other = createWardrobe();
    const renamed = {
      ...other,
      sections: [other.sections[0]!, { ...other.sections[1]!, name: 'Skirt_v2', meshName: 'Skirt_v2' }],
    };
    const { document: kept, review } = transferDocument(source, renamed, document);
    expect(review.sections.map(({ name, state }) => [name, state])).deep.equal([
      ['Leg', 'same'],
      ['Skirt', 'missing'],
      ['Skirt_v2', 'new'],
    ]);
    expect(review.unbound).deep.equal(['Skirt']);
    expect(review.problems.map(({ reason }) => reason)).deep.equal(['there is no section "Skirt"']);
    expect(paintedOf(kept)).deep.equal(paintedOf(document));
    expect(listGarments(kept)[0]!.sectionName).equal('Skirt');

    const matched = transferDocument(source, renamed, document, { Skirt: 'Skirt_v2' });
    expect(matched.review.unbound).deep.equal([]);
    expect(matched.review.problems).deep.equal([]);
    expect(listGarments(matched.document)[0]!.sectionName).equal('Skirt_v2');
    expect(listSteps(matched.document)[0]!.sectionName).equal('Skirt_v2');
    expect(paintedOf(matched.document)).deep.equal(paintedOf(document));
  });

  it('with joints in another order keeps bodies on theirs; without one it goes to the joint above, in its place', () => {
    const source = createWardrobe();
    const document = author(source);
    const gone = createWardrobe();
    gone.skeleton.names[1] = 'shin';
    gone.clips[0]!.name = 'sit';
    const { document: transferred, review } = transferDocument(source, gone, document);
    expect(review.bodies).deep.equal([{ name: 'knee', joint: 'knee', to: 'hip' }]);
    expect(review.clipsGone).deep.equal(['bow']);
    expect(review.clipsNew).deep.equal(['sit']);
    const [body] = listBodies(transferred, listRecords(transferred, 'bodySet')[0]!.id);
    expect(body!.jointName).equal('hip');
    // The knee hangs 0.35 m below the hip.
    expect((body!.shape as RoundShape).a[1]).closeTo(-0.35, 1e-5);
  });
});

describe('clips of another file', () => {
  it('come onto joints of the same name; what is not there is told', () => {
    const character = createWardrobe();
    const other = createWardrobe();
    // The same joints, with another before them.
    other.skeleton.names = ['ground', 'hip', 'knee', 'tail'];
    other.clips = [
      {
        ...other.clips[0]!,
        tracks: [
          { ...other.clips[0]!.tracks[0]!, node: 2 },
          { ...other.clips[0]!.tracks[0]!, node: 3 },
        ],
      },
    ];
    const { clips, lostJoints, foundJoints } = adoptClips(character, other);
    expect(clips.map(({ name }) => name)).deep.equal(['bow (2)']);
    expect(clips[0]!.tracks.map(({ node }) => node)).deep.equal([1]);
    expect(lostJoints).deep.equal(['tail']);
    expect(foundJoints).equal(1);
  });
});
