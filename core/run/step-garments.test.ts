import { expect } from 'chai';
import { FrameHelpers, type FrameMessage, FrameServer } from '../cloth/index.ts';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  insertGarment,
  listGarments,
  type RecordId,
} from '../document/index.ts';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import type { Character } from '../rig/index.ts';
import { type CharacterRun, GarmentCache, setUpRun, startRun, stepTogether } from './index.ts';

const character = createWardrobe();
const [LEG, SKIRT] = [0, 1];

/** So many skirts, one over the other, that hang from their upper edges over the leg. */
function dress(skirts: number): { worn: Character; document: AuthoredDocument } {
  const copies = Array.from({ length: skirts - 1 }, (_, c) => {
    const positions = character.sections[SKIRT]!.positions.map((value, i) =>
      i % 3 === 1 ? value : value * (1 + 0.04 * (c + 1)),
    );
    return { ...character.sections[SKIRT]!, name: `Skirt ${c + 2}`, positions };
  });
  const worn = { ...character, sections: [...character.sections, ...copies] };
  const document = createDocument();
  let ids = 0;
  const sections = [LEG, SKIRT, ...copies.map((_, c) => character.sections.length + c)];
  for (const section of sections) {
    const made = createGarment(worn, document, section, () => `id-${++ids}` as RecordId);
    insertGarment(
      document,
      made,
      made.maxDistances.map((_, p) => (p < 45 ? 0 : 0.2)),
    );
  }
  return { worn, document };
}

/** The document with some pairs of garments, by their places, told as clear of each other. */
function clear(document: AuthoredDocument, pairs: readonly (readonly [number, number])[]): AuthoredDocument {
  const records = new Map(document.records);
  const garments = listGarments(document);
  for (const [over, beneath] of pairs) {
    const garment = records.get(garments[over]!.id);
    if (garment?.type !== 'garment') throw new Error('no garment');
    records.set(garment.id, { ...garment, clearOf: [...garment.clearOf, garments[beneath]!.id] });
  }
  return { ...document, records };
}

/** Helpers whose threads are this one: what they are told they do at once. */
function createHelpers(most: number) {
  const told: FrameMessage['kind'][] = [];
  const helpers = new FrameHelpers(most, () => {
    const server = new FrameServer(() => 0);
    return (message) => {
      told.push(message.kind);
      server.handle(message);
    };
  });
  return { helpers, told };
}

function play(run: CharacterRun, frames: number): void {
  for (let frame = 0; frame < frames; frame++) run.step();
}

const places = (run: CharacterRun): Float32Array[] => run.garments.map(({ simulated }) => simulated.slice());

describe('garments side by side', () => {
  const { worn, document } = dress(3);
  /** The leg is met by all; the skirts do not meet each other. */
  const apart = clear(document, [
    [2, 1],
    [3, 1],
    [3, 2],
  ]);

  it('come to the same bytes as one after the other, through jumps and changes of the margin', () => {
    const { helpers, told } = createHelpers(2);
    const setup = setUpRun(apart, worn);
    const [one, several] = [startRun(setup), startRun(setup, { helpers })];
    for (const run of [one, several]) {
      run.play(0);
      run.reset();
      play(run, 20);
      const { fabric } = run.garments[2]!.solver;
      // Now nobody waits for the leg, and then somebody does again: where it came to meanwhile is known.
      for (const layerMargin of [0, 0.01]) {
        for (const { setup: own } of run.garments) run.setFabric(own.id, { ...fabric, layerMargin });
        play(run, 10);
      }
      run.seek(0.3);
      play(run, 20);
    }
    expect(places(several)).deep.equal(places(one));
    expect(told.filter((kind) => kind === 'wake').length).greaterThan(30);
    // It moves: nothing equals only because nothing happens.
    const { simulated, targets } = one.garments[2]!;
    expect(Math.max(...targets.map((target, i) => Math.abs(target - simulated[i]!)))).greaterThan(0.02);
  });

  it('wait for those that they meet: where all do nobody else is asked', () => {
    const { helpers, told } = createHelpers(2);
    const run = startRun(setUpRun(document, worn), { helpers });
    run.play(0);
    run.reset();
    play(run, 10);
    expect(told).deep.equal([]);
    const alone = startRun(setUpRun(document, worn));
    alone.play(0);
    alone.reset();
    play(alone, 10);
    expect(places(run)).deep.equal(places(alone));
  });

  it('of two characters are stepped together, to the same bytes', () => {
    const { helpers, told } = createHelpers(1);
    const one = startRun(setUpRun(document, worn));
    const both = [document, clear(document, [[3, 0]])].map((each) =>
      startRun(setUpRun(each, worn), { helpers }),
    );
    for (const run of [one, ...both]) {
      run.play(0);
      run.reset();
    }
    play(one, 30);
    for (let frame = 0; frame < 30; frame++) stepTogether(both, 1, helpers);
    expect(places(both[0]!)).deep.equal(places(one));
    expect(places(both[1]!)).not.deep.equal(places(one));
    expect(told).include('wake');
  });
});

describe('garments that never touch', () => {
  const { worn, document } = dress(1);

  it('are simulated as if the other were not there, whichever says so, and cost nothing of it', () => {
    const alone = { ...document, records: new Map(document.records) };
    alone.records.delete(listGarments(document)[0]!.id);
    const upper = clear(document, [[1, 0]]);
    const lower = clear(document, [[0, 1]]);
    const [without, ...both] = [alone, upper, lower].map((each) => startRun(setUpRun(each, worn)));
    for (const run of [without!, ...both]) {
      run.play(0);
      run.reset();
      play(run, 40);
    }
    const [own] = without!.takeWork().garments;
    for (const run of both) {
      expect(run.garments[1]!.simulated).deep.equal(without!.garments[0]!.simulated);
      const [, skirt] = run.takeWork().garments;
      expect(skirt!.counts).deep.equal(own!.counts);
      expect(skirt!.waitsFor).deep.equal([]);
      // What shows through is measured all the same.
      expect(run.garments[1]!.beneath.length).equal(1);
    }
    const meeting = startRun(setUpRun(document, worn));
    play(meeting, 1);
    const [leg, skirt] = meeting.takeWork().garments;
    expect(skirt!.counts.layerPasses).greaterThan(0);
    expect(skirt!.waitsFor).deep.equal([leg!.garmentId]);
  });

  it('begin anew when that is said while they run; others go on', () => {
    const cache = new GarmentCache();
    const run = startRun(setUpRun(document, worn, { cache }));
    run.play(0);
    run.reset();
    play(run, 10);
    const [leg, skirt] = run.garments;
    expect(run.takeSetup(setUpRun(clear(document, [[1, 0]]), worn, { cache }))).equal(true);
    expect(run.garments[0]).equal(leg);
    expect(run.garments[1]).not.equal(skirt);
  });
});
