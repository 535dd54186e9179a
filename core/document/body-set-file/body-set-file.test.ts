import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { findProjectRoot } from '../../../server/project-root.ts';
import { type BodyShape, SHAPE_KINDS } from '../../bodies/index.ts';
import { createWardrobe } from '../../prepare/test-wardrobe.ts';
import type { Character } from '../../rig/index.ts';
import { setUpRun, startRun } from '../../run/index.ts';
import {
  type AuthoredDocument,
  type BodySetRecord,
  createDocument,
  createGarment,
  insertGarment,
  listBodies,
  listRecords,
  type RecordId,
} from '../index.ts';
import { measureBones, parseBodySet, placeBodySet, toSetRecords, writeBodySet } from './index.ts';

const SHAPES: readonly BodyShape[] = [
  { kind: 'sphere', a: [0, 0.1 / 3, 0], b: [0, 0, 0], radiusA: 0.21, radiusB: 0.21 },
  { kind: 'capsule', a: [0, 0, 0], b: [0, -0.35, 0], radiusA: 0.05, radiusB: 0.05 },
  { kind: 'taperedCapsule', a: [0, 0, 0.01], b: [0, -0.3, 0], radiusA: 0.06, radiusB: 0.04 },
  { kind: 'box', centre: [0, -0.2, 0], rotation: [0, 0.6, 0, 0.8], halfSize: [0.05, 0.1, 0.05] },
  { kind: 'hull', points: [0, 0, 0, 0.1, 0, 0, 0, 0.1, 0, 0, 0, 0.1] },
  { kind: 'plane', point: [0, -2, 0], normal: [0, 1, 0] },
];

/** The skirt of the wardrobe over one body of each kind. */
function author(character: Character): { document: AuthoredDocument; set: BodySetRecord } {
  const document = createDocument();
  let count = 0;
  const createId = (): RecordId => `id-${String(++count).padStart(3, '0')}` as RecordId;
  const made = createGarment(character, document, 1, createId);
  insertGarment(document, made, new Float32Array(made.maxDistances.length).fill(0.2));
  const set = made.bodySet!;
  SHAPES.forEach((shape, i) => {
    const id = createId();
    const jointName = i % 2 === 0 ? 'hip' : 'knee';
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: set.id,
      name: `body ${i}`,
      jointName,
      shape,
      margin: 0.003,
      group: 1,
    });
  });
  return { document, set };
}

/** Welded places of the skirt after half a second of the clip. */
function simulate(character: Character, document: AuthoredDocument): Float32Array {
  const run = startRun(setUpRun(document, character));
  run.play(0);
  run.reset();
  for (let frame = 0; frame < 30; frame++) run.step();
  return run.garments[0]!.solver.positions.slice();
}

describe('a body set as a file', () => {
  it('comes back the same to the last digit, and simulates to the same bytes', () => {
    const character = createWardrobe();
    const { document, set } = author(character);
    expect(SHAPES.map(({ kind }) => kind)).deep.equal([...SHAPE_KINDS]);
    const text = JSON.stringify(writeBodySet(document, character, set));
    const before = listBodies(document, set.id, character.skeleton);
    const placed = placeBodySet(parseBodySet(text), character);
    expect(placed.every(({ scale, joint, onto }) => scale === 1 && joint === onto)).equal(true);
    const wanted = simulate(character, document);
    for (const { id } of listRecords(document, 'body')) document.records.delete(id);
    expect(simulate(character, document)).not.deep.equal(wanted);
    let count = 0;
    const made = toSetRecords(placed, set.id, () => `new-${++count}` as RecordId);
    for (const body of made) document.records.set(body.id, body);
    expect(made.map(({ shape }) => shape)).deep.equal(before.map(({ shape }) => shape));
    expect(simulate(character, document)).deep.equal(wanted);
  });

  it('says what bodies do with a body shape; one of version 1, which did not, is read all the same', () => {
    const character = createWardrobe();
    const { document, set } = author(character);
    const file = writeBodySet(document, character, { ...set, follows: 'fit' });
    expect(parseBodySet(JSON.stringify(file))).deep.equal(file);
    const { follows: _follows, ...earlier } = { ...file, version: 1 };
    expect(parseBodySet(JSON.stringify(earlier))).deep.equal({ ...file, follows: 'skin' });
    expect(() => parseBodySet(JSON.stringify({ ...file, follows: 'wind' }))).throw('follows');
  });

  it('is accepted by the published schema', () => {
    const character = createWardrobe();
    const { document, set } = author(character);
    const schema = JSON.parse(
      readFileSync(join(findProjectRoot(), 'docs/formats/body-set.schema.json'), 'utf8'),
    );
    const validate = new Ajv2020({ allErrors: true }).compile(schema);
    const file = writeBodySet(document, character, set);
    expect(validate(JSON.parse(JSON.stringify(file))), JSON.stringify(validate.errors)).equal(true);
    expect(validate({ ...file, bodies: [{ ...file.bodies[0], shape: { kind: 'torus' } }] })).equal(false);
  });

  it('goes onto a larger character with joints of like names, and tells of those that it lacks', () => {
    const character = createWardrobe();
    const { document, set } = author(character);
    const file = writeBodySet(document, character, set);
    const large = createWardrobe();
    large.skeleton.names[0] = 'Rig:Hip';
    large.skeleton.names[1] = 'shin';
    // The file says how long the bone was: half of what it is there.
    const bones = measureBones(large);
    expect(bones.get('Rig:Hip')).above(0);
    const halved = {
      ...file,
      bodies: file.bodies.map((body) => ({ ...body, boneLength: bones.get('Rig:Hip')! / 2 })),
    };
    const placed = placeBodySet(halved, large);
    const hip = placed.filter(({ joint }) => joint === 'hip');
    expect(hip.map(({ onto }) => onto)).deep.equal(['Rig:Hip', 'Rig:Hip', 'Rig:Hip']);
    expect(hip[0]!.scale).closeTo(2, 1e-9);
    expect(hip[0]!.body!.shape).deep.include({ kind: 'sphere', radiusA: 0.42 });
    const knee = placed.filter(({ joint }) => joint === 'knee');
    expect(knee.every(({ onto, body }) => onto === null && body === null)).equal(true);
    expect(toSetRecords(placed, set.id, () => 'x' as RecordId).length).equal(3);
  });

  it('that is damaged is refused, with what is wrong and where', () => {
    const character = createWardrobe();
    const { document, set } = author(character);
    const file = writeBodySet(document, character, set);
    const refuse = (value: unknown): string => {
      try {
        parseBodySet(typeof value === 'string' ? value : JSON.stringify(value));
        return 'taken';
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect(refuse(file)).equal('taken');
    expect(refuse('{')).contain('not JSON');
    expect(refuse({ a: 1 })).contain('no body set');
    expect(refuse(null)).contain('no body set');
    expect(refuse({ ...file, version: 9 })).contain('Its version is 9');
    const [body, ...others] = file.bodies;
    expect(refuse({ ...file, bodies: [{ ...body, group: 99 }, ...others] })).contain('bodies[0].group');
    const negative = { ...body, shape: { ...body!.shape, radiusA: -1 } };
    expect(refuse({ ...file, bodies: [...others, negative] })).contain('bodies[5].shape.radiusA');
  });
});
