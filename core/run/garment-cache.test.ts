import { expect } from 'chai';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import { createRun, GarmentCache, setUpRun } from './index.ts';

const [LEG, SKIRT] = [0, 1];

describe('garments compiled before', () => {
  const createBound = () => {
    const character = createWardrobe();
    const document = createDocument();
    let ids = 0;
    for (const section of [SKIRT, LEG]) {
      const made = createGarment(character, document, section, () => `id-${++ids}` as RecordId);
      insertGarment(document, made);
    }
    return { character, document };
  };

  it('are used again as long as their section is the same, in whatever memory', () => {
    const { character, document } = createBound();
    const cache = new GarmentCache();
    const first = setUpRun(document, character, { cache });
    expect(cache.madeCount).equal(2);
    const again = setUpRun(document, structuredClone(character), { cache });
    expect(cache.madeCount).equal(2);
    expect(again.garments[0]!.compiled).equal(first.garments[0]!.compiled);
  });

  it('are made anew for the one section that changed, and run as a fresh one does', () => {
    const { character, document } = createBound();
    const cache = new GarmentCache();
    createRun(document, character, { cache });
    const section = character.sections[SKIRT]!;
    const changed = { ...section, positions: section.positions.map((value) => 1.01 * value) };
    const sections = character.sections.map((one, index) => (index === SKIRT ? changed : one));
    const [run, fresh] = [
      createRun(document, { ...character, sections }, { cache }),
      createRun(document, { ...character, sections }),
    ];
    expect(cache.madeCount).equal(3);
    for (let frame = 0; frame < 30; frame++) for (const each of [run, fresh]) each.step();
    expect(run.garments.map(({ solver }) => solver.positions)).deep.equal(
      fresh.garments.map(({ solver }) => solver.positions),
    );
  });

  it('are forgotten when nothing needs them any more', () => {
    const { character, document } = createBound();
    const cache = new GarmentCache();
    setUpRun(document, character, { cache });
    setUpRun(createDocument(), character, { cache });
    setUpRun(document, character, { cache });
    expect(cache.madeCount).equal(4);
  });

  it('are taken over from another cache, without being made again', () => {
    const { character, document } = createBound();
    const [elsewhere, cache] = [new GarmentCache(), new GarmentCache()];
    const there = setUpRun(document, character, { cache: elsewhere });
    const made = elsewhere.takeMade();
    expect(made.length).equal(2);
    expect(elsewhere.takeMade()).deep.equal([]);
    cache.adopt(structuredClone(made));
    const here = setUpRun(document, structuredClone(character), { cache });
    expect(cache.madeCount).equal(0);
    expect(here.garments.map(({ compiled }) => compiled)).deep.equal(
      there.garments.map(({ compiled }) => compiled),
    );
    // By reference: the arrays are in memory that both threads see.
    expect(here.garments[0]!.compiled.restPositions.buffer).instanceOf(SharedArrayBuffer);
    expect(here.garments[0]!.compiled.bend.hinges.quads.buffer).instanceOf(SharedArrayBuffer);
  });

  it('are others for another turn of the warp', () => {
    const { character, document } = createBound();
    const cache = new GarmentCache();
    setUpRun(document, character, { cache });
    for (const record of document.records.values())
      if (record.type === 'garment') document.records.set(record.id, { ...record, warpTurn: 0.3 });
    setUpRun(document, character, { cache });
    expect(cache.madeCount).equal(4);
  });
});
