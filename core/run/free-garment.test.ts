import { expect } from 'chai';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import { CharacterRun, freeGarment, setUpGarments } from './index.ts';

const [LEG, SKIRT] = [0, 1];

function setUp(values: (height: number) => number) {
  const character = createWardrobe();
  const document = createDocument();
  let ids = 0;
  const made = createGarment(character, document, SKIRT, () => `id-${++ids}` as RecordId);
  insertGarment(document, made);
  const [held] = setUpGarments(character, document);
  const { restPositions, weldedOfPoint, pointCount } = held!.compiled;
  const painted = new Float32Array(pointCount);
  for (let i = 0; i < pointCount; i++) painted[weldedOfPoint[i]!] = values(restPositions[4 * i + 1]!);
  document.arrays.set(made.channel.id, painted);
  return { character, setup: setUpGarments(character, document)[0]! };
}

/** Lowest and highest of the points, m. */
function measureHeights(run: CharacterRun): [number, number] {
  const { shown, setup } = run.garments[0]!;
  let [low, high] = [9, -9];
  for (let i = 1; i < 4 * setup.compiled.pointCount; i += 4) {
    low = Math.min(low, shown[i]!);
    high = Math.max(high, shown[i]!);
  }
  return [low, high];
}

describe('a garment let go of to fall into place', () => {
  it('keeps what is held, whatever its reach, and lets all else fall', () => {
    const { character, setup } = setUp((y) => (y > -0.05 ? 0 : 0.001));
    const still = new CharacterRun(character, [setup]);
    const free = new CharacterRun(character, [freeGarment(setup, character, [LEG])]);
    for (const run of [still, free]) {
      run.reset();
      for (let i = 0; i < 60; i++) run.step();
    }
    const [low, high] = measureHeights(free);
    expect(high).closeTo(measureHeights(still)[1], 1e-3);
    // A flared skirt falls in towards the leg, and so hangs lower.
    expect(low).below(measureHeights(still)[0] - 0.002);
    expect(setup.maxDistances.every((distance) => distance <= 0.0011)).equal(true);
  });

  it('of which all is held falls as a whole, and is met by the body', () => {
    const { character, setup } = setUp(() => 0);
    const freed = freeGarment(setup, character, [LEG]);
    expect(freed.bodyMeshes).length(1);
    expect(freed.maxDistances.every((distance) => distance > 1)).equal(true);
    const run = new CharacterRun(character, [freed]);
    run.reset();
    for (let i = 0; i < 30; i++) run.step();
    const [, high] = measureHeights(run);
    expect(high).below(-0.2);
    const { shown, setup: own } = run.garments[0]!;
    // Its waist of 12 cm slides down around the leg of 10 cm without going in.
    for (let i = 0; i < 4 * own.compiled.pointCount; i += 4) {
      if (shown[i + 1]! > -0.7) expect(Math.hypot(shown[i]!, shown[i + 2]!)).above(0.09);
    }
  });

  it('follows a joint that is turned beside its clip', () => {
    const { character, setup } = setUp(() => 0);
    const run = new CharacterRun(character, [setup]);
    run.reset();
    run.step();
    const before = run.garments[0]!.targets.slice();
    run.setTurns([{ node: 0, angles: [0, Math.PI / 2, 0] }]);
    run.step();
    const after = run.garments[0]!.targets;
    let farthest = 0;
    for (let i = 0; i < before.length; i += 4)
      farthest = Math.max(
        farthest,
        Math.hypot(after[i]! - before[i]!, after[i + 1]! - before[i + 1]!, after[i + 2]! - before[i + 2]!),
      );
    expect(farthest).above(0.2);
    run.setTurns([]);
    run.step();
    expect(run.garments[0]!.targets).deep.equal(before);
  });
});
