import { expect } from 'chai';
import { REFERENCE_PRICING } from '../cost/index.ts';
import {
  type AuthoredDocument,
  BODY_DEFAULTS,
  findChannel,
  listGarments,
  listRecords,
  type RecordId,
  type StepRecord,
} from '../document/index.ts';
import { makeArrays, Preparation } from '../prepare/index.ts';
import { setUpRun, startRun } from '../run/index.ts';
import { createScene } from '../trials/test-scene.ts';
import { applyBudgetChanges, type BudgetChange, proposeChanges, shakeDocument, tellChange } from './index.ts';

describe('changes that may save', () => {
  const { document, setup } = createScene({ hasBody: true });
  const character = setup.base;
  const [garment] = listGarments(document);
  const [ball] = listRecords(document, 'body');
  const cube = { ...BODY_DEFAULTS, ...ball!, id: 'cube' as RecordId, name: 'cube' };
  cube.shape = { kind: 'box', centre: [0, 0, 0], rotation: [0, 0, 0, 1], halfSize: [0.1, 0.1, 0.1] };
  document.records.set(cube.id, cube);
  const fabric = listRecords(document, 'fabric')[0]!;
  document.records.set(fabric.id, {
    ...fabric,
    settings: { ...fabric.settings, iterations: 3, selfDistance: 0.02 },
  });
  const before = new Map(document.records);

  const apply = (...changes: BudgetChange[]) => applyBudgetChanges(character, document, changes);
  const settingsOf = ({ records }: AuthoredDocument) => {
    const record = records.get(fabric.id);
    return record?.type === 'fabric' ? record.settings : null;
  };

  it('do what they say, and leave what they are given as it was', () => {
    const fabricId = fabric.id;
    const { document: settled } = apply(
      { kind: 'substeps', fabricId, substepsPerSecond: 120 },
      { kind: 'iterations', fabricId, iterations: 2 },
      { kind: 'noSelfCollision', fabricId },
    );
    expect(settingsOf(settled)).include({ substepsPerSecond: 120, iterations: 2, selfDistance: 0 });
    const { document: without } = apply({ kind: 'dropBodies', bodyIds: [ball!.id, cube.id] });
    expect(listRecords(without, 'body')).deep.equal([]);
    const { document: round } = apply({ kind: 'roundBody', bodyId: cube.id });
    const made = listRecords(round, 'body').find(({ id }) => id === cube.id)!;
    expect(made.shape.kind).equal('taperedCapsule');
    const channel = findChannel(document, garment!.id)!;
    const values = document.arrays.get(channel.id)!;
    const below = [...values].sort((p, q) => p - q)[Math.floor(values.length / 2)]! + 1e-6;
    const { document: held } = apply({ kind: 'hold', garmentId: garment!.id, below });
    held.arrays.get(channel.id)!.forEach((value, p) => {
      expect(value).equal(values[p]! < below ? 0 : values[p]);
    });
    expect([...document.records]).deep.equal([...before]);
  });

  it('simulate a garment on the very mesh that the step makes, with its map carried and its hold kept', () => {
    const change = { kind: 'simMesh', garmentId: garment!.id, edgeLength: 0.1 } as const;
    const { character: coarse, document: derived } = apply(change);
    const on = listGarments(derived)[0]!;
    const section = coarse.sections[on.sectionIndex]!;
    expect(section).include({ name: on.sectionName, isSimMesh: true });
    // The same by the way that the page goes.
    const { sectionIndex, sectionName } = garment!;
    const act: StepRecord['act'] = { kind: 'makeSimMesh', edgeLength: 0.1, borderDetail: 0.5, others: [] };
    const step: StepRecord = { type: 'step', id: 's' as RecordId, order: 0, sectionIndex, sectionName, act };
    const stepped = {
      records: new Map([...document.records, [step.id, step]]),
      arrays: new Map(document.arrays),
    };
    const preparation = new Preparation(character);
    makeArrays(preparation, stepped);
    const { character: prepared, problems } = preparation.update(stepped);
    expect(problems).deep.equal([]);
    expect(section.positions).deep.equal(prepared.sections.at(-1)!.positions);
    const channel = findChannel(derived, garment!.id)!;
    const values = derived.arrays.get(channel.id)!;
    expect(values.length).equal(channel.pointCount);
    expect(values.includes(0)).equal(document.arrays.get(channel.id)!.includes(0));
    const run = startRun(setUpRun(derived, coarse));
    run.play(0);
    run.reset();
    for (let frame = 0; frame < 30; frame++) run.step();
    expect(run.garments[0]!.setup.compiled.pointCount).equal(values.length);
    expect([...run.garments[0]!.solver.positions].every(Number.isFinite)).equal(true);
  });

  it('join thin rows as the step does, with the map carried; proposed where there are some', () => {
    const [first] = character.sections;
    // The second row of squares is a twentieth as high as the others.
    const positions = first!.positions.map((value, i) => {
      const row = Math.floor(Math.floor(i / 3) / 13);
      return i % 3 === 1 && row === 2 ? first!.positions[3 * (row - 1) * 13 + 1]! - 0.0025 : value;
    });
    const thin = { ...character, sections: [{ ...first!, positions }, ...character.sections.slice(1)] };
    const run = startRun(setUpRun(document, thin));
    const asked = (on: typeof thin) =>
      proposeChanges(on, document, run.takeWork(), REFERENCE_PRICING).filter(
        ({ kind }) => kind === 'joinRows',
      );
    expect(asked(thin)).deep.equal([{ kind: 'joinRows', garmentId: garment!.id }]);
    expect(asked(character)).deep.equal([]);
    const joined = applyBudgetChanges(thin, document, asked(thin));
    const channel = findChannel(joined.document, garment!.id)!;
    const values = joined.document.arrays.get(channel.id)!;
    // One row of 13 vertices less, and what hung still hangs.
    expect(values.length).equal(13 * 12);
    expect(channel.pointCount).equal(values.length);
    expect(values.filter((value) => value === 0).length).equal(13);
    expect(setUpRun(joined.document, joined.character).garments[0]!.compiled.pointCount).equal(values.length);
  });

  it('tell garments as clear of each other, each pair that is kept off, once', () => {
    const worn = { ...document, records: new Map(document.records) };
    const over = { ...garment!, id: 'over' as RecordId, name: 'Over', order: 9 };
    worn.records.set(over.id, over);
    const asked = (on: AuthoredDocument) =>
      proposeChanges(
        character,
        on,
        { frames: 0, seconds: 0, joints: 0, garments: [] },
        REFERENCE_PRICING,
      ).filter(({ kind }) => kind === 'clear');
    const [change, ...others] = asked(worn);
    expect(change).deep.equal({ kind: 'clear', garmentId: over.id, otherId: garment!.id });
    expect(others).deep.equal([]);
    const { document: apart } = applyBudgetChanges(character, worn, [change!]);
    expect(listGarments(apart).map(({ clearOf }) => clearOf)).deep.equal([[], [garment!.id]]);
    expect(asked(apart)).deep.equal([]);
    expect(tellChange(worn, change!)).equal(`Over: clear of ${garment!.name}`);
    // Nothing is kept off where the fabric has no margin.
    const settings = { ...fabric.settings, layerMargin: 0 };
    worn.records.set(fabric.id, { ...fabric, settings });
    expect(asked(worn)).deep.equal([]);
  });

  it('are refused when what they are about is gone, or is something else', () => {
    for (const change of [
      { kind: 'dropBodies', bodyIds: ['gone'] },
      { kind: 'dropBodies', bodyIds: [fabric.id] },
      { kind: 'substeps', fabricId: garment!.id, substepsPerSecond: 60 },
      { kind: 'simMesh', garmentId: 'gone', edgeLength: 0.1 },
      { kind: 'hold', garmentId: 'gone', below: 0.1 },
    ])
      expect(() => apply(change as BudgetChange), change.kind).throw(RangeError);
  });

  it('are proposed of what a run did: what nothing touched together, boxes as capsules, and no setting twice', () => {
    const run = startRun(setUpRun(document, character));
    run.play(0);
    run.reset();
    for (let frame = 0; frame < 60; frame++) run.step();
    const proposals = proposeChanges(character, document, run.takeWork(), REFERENCE_PRICING);
    const texts = proposals.map((change) => tellChange(document, change));
    expect(new Set(texts).size).equal(texts.length);
    const kinds = new Set(proposals.map(({ kind }) => kind));
    for (const kind of ['dropBodies', 'roundBody', 'substeps', 'iterations', 'noSelfCollision'] as const)
      expect(kinds.has(kind), kind).equal(true);
    // Each can be done.
    for (const change of proposals) expect(() => apply(change)).not.throw();
    // A garment that is shown as it is skinned costs nothing that a change could save.
    const still = new Map(document.records).set(garment!.id, { ...garment!, blend: 0 });
    expect(
      proposeChanges(character, { ...document, records: still }, run.takeWork(), REFERENCE_PRICING),
    ).deep.equal([]);
  });

  it('are told from chance by an asset shaken by a ten-thousandth of its mass', () => {
    const shaken = settingsOf(shakeDocument(document, -1))!;
    expect(shaken.density / settingsOf(document)!.density).closeTo(1 - 1e-4, 1e-12);
    expect(shaken).deep.equal({ ...settingsOf(document), density: shaken.density });
  });
});
