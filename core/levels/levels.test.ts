import { expect } from 'chai';
import { REFERENCE_PRICING } from '../cost/index.ts';
import {
  BODY_DEFAULTS,
  findChannel,
  type GarmentLevel,
  listGarments,
  listMaps,
  listRecords,
  PLAIN_LEVEL,
  type RecordId,
} from '../document/index.ts';
import { coarsenGarment, readSimSettings, SurfaceCache } from '../prepare/index.ts';
import { GarmentCache, startRun } from '../run/index.ts';
import { createScene } from '../trials/test-scene.ts';
import {
  findBand,
  LevelRun,
  listBands,
  makeLevelMeshes,
  measureHeight,
  measureSwitch,
  placeLevels,
  proposeLevels,
  setUpLevel,
} from './index.ts';

const level = (pixels: number, change: Partial<GarmentLevel> = {}): GarmentLevel => ({
  ...PLAIN_LEVEL,
  pixels,
  ...change,
});

/** A sheet before a ball, with levels. */
function createSheetScene(levels: readonly GarmentLevel[] = []) {
  const { document, setup } = createScene({ hasBody: true });
  const garment = { ...listGarments(document)[0]!, levels };
  document.records.set(garment.id, garment);
  return { document, character: setup.base, garment };
}

/** Bands of a garment, with the meshes of their levels and a run of each. */
function setUpAll({ document, character, garment }: ReturnType<typeof createSheetScene>) {
  const bands = listBands([garment]);
  const made = makeLevelMeshes(character, document, bands);
  const cache = new GarmentCache();
  return { bands, setups: bands.map((band) => setUpLevel(document, made, band, { cache })) };
}

describe('bands of levels', () => {
  const [coat, sash] = ['coat', 'sash'] as RecordId[];
  const garments = [
    { id: coat!, levels: [level(400), level(100, { blend: 0 })] },
    { id: sash!, levels: [level(200)] },
  ];

  it('are the sizes at which every garment is at one level', () => {
    const bands = listBands(garments);
    expect(bands.map(({ below, from }) => [below, from])).deep.equal([
      [Number.POSITIVE_INFINITY, 400],
      [400, 200],
      [200, 100],
      [100, 0],
    ]);
    const told = bands.map(({ levels }) =>
      garments.map(({ id, levels: own }) => own.indexOf(levels.get(id)!)),
    );
    expect(told).deep.equal([
      [-1, -1],
      [0, -1],
      [0, 0],
      [1, 0],
    ]);
  });

  it('are the same whatever the order of the list, and one when there are no levels', () => {
    const turned = garments.map(({ id, levels }) => ({ id, levels: levels.toReversed() }));
    expect(listBands(turned)).deep.equal(listBands(garments));
    expect(listBands([{ id: coat!, levels: [] }])).deep.equal([
      { below: Number.POSITIVE_INFINITY, from: 0, levels: new Map() },
    ]);
  });

  it('are found by the size on the screen, their lower bound in them', () => {
    const bands = listBands(garments);
    expect([5000, 400, 399, 200, 199.9, 100, 99, 0].map((pixels) => findBand(bands, pixels))).deep.equal([
      0, 0, 1, 1, 2, 2, 3, 3,
    ]);
  });
});

describe('meshes of levels', () => {
  it('are those of the step with the same settings, with the maps carried over; the garment keeps its own', () => {
    const { document, character, garment } = createSheetScene([
      level(400, { edgeLength: 0.08 }),
      level(200, { edgeLength: 0.12 }),
    ]);
    const bands = listBands([garment]);
    const made = makeLevelMeshes(character, document, bands);
    expect(made.faults).deep.equal([]);
    expect(made.character.sections.length).equal(character.sections.length + 2);
    const settings = readSimSettings(document, garment, 0.08);
    const alone = coarsenGarment(character, document, garment, settings);
    const placed = placeLevels(document, made, bands[1]!.levels);
    const [own] = listGarments(placed);
    expect(made.character.sections[own!.sectionIndex]).deep.equal(alone.character.sections.at(-1));
    expect(own!.renders.map(({ sectionName }) => sectionName)).deep.equal([garment.sectionName]);
    const map = findChannel(placed, garment.id)!;
    expect(placed.arrays.get(map.id)).deep.equal(alone.document.arrays.get(map.id));
    expect(listMaps(document, garment.id)[0]!.pointCount).not.equal(map.pointCount);
    expect(listGarments(document)[0]).equal(garment);
    // Farther, with fewer vertices; and the nearest band is the garment as it is.
    const counts = bands.map((band) => setUpLevel(document, made, band).garments[0]!.compiled.pointCount);
    expect(counts[0]).equal(character.sections[0]!.positions.length / 3);
    expect(counts[2]).below(counts[1]!);
  });

  it('that cannot be made are said, and the garment stays on its own', () => {
    const { document, character, garment } = createSheetScene([level(400, { edgeLength: 0.08 })]);
    const lost = { ...garment, sectionName: 'gone', sectionIndex: 99 };
    document.records.set(garment.id, lost);
    const [, band] = listBands([lost]);
    const made = makeLevelMeshes(character, document, [band!]);
    expect(made.faults).length(1);
    expect(made.faults[0]).match(/8\.0 cm.*has lost its section/);
    expect(listGarments(placeLevels(document, made, band!.levels))).deep.equal([lost]);
  });

  it('are not made again when they were before', () => {
    const { document, character, garment } = createSheetScene([level(400, { edgeLength: 0.08 })]);
    const [, band] = listBands([garment]);
    const cache = new SurfaceCache();
    const first = makeLevelMeshes(character, document, [band!], cache);
    let calls = 0;
    const find = cache.find.bind(cache);
    cache.find = (...[one, sections, settings, make]) =>
      find(one, sections, settings, () => {
        calls++;
        return make();
      });
    const second = makeLevelMeshes(character, document, [band!], cache);
    expect(calls).equal(0);
    expect(second.character.sections.at(-1)).deep.equal(first.character.sections.at(-1));
  });
});

describe('levels that are proposed', () => {
  it('span as many pixels with an edge as near by, take fewer substeps, and end off', () => {
    const { document, character, garment } = createSheetScene();
    const levels = proposeLevels(character, document, garment);
    const height = measureHeight(character);
    // The sheet hangs from 0.3 m down to -0.3 m; the ball is smaller.
    expect(height).closeTo(0.6, 1e-6);
    const spans = levels.flatMap(({ edgeLength, pixels }) =>
      edgeLength === null ? [] : [(edgeLength * pixels) / height],
    );
    // As many as its own edges of 5 cm near by, at 1,000 px; no more where so few vertices are left that they do not get longer.
    expect(spans[0]).closeTo((0.05 * 1000) / height, 2);
    for (const span of spans) expect(span).most(1.05 * spans[0]!);
    const bounds = levels.map(({ pixels }) => pixels);
    expect(bounds).deep.equal([...bounds].sort((p, q) => q - p));
    const { settings } = listRecords(document, 'fabric')[0]!;
    let before = settings.substepsPerSecond;
    for (const { substepsPerSecond } of levels.slice(0, -1)) {
      expect(substepsPerSecond).below(before);
      before = substepsPerSecond!;
    }
    expect(levels.at(-1)!.blend).equal(0);
    // Farthest of those that are simulated: half a metre of reach is no more than 4 px where it goes off.
    expect((0.5 * levels.at(-1)!.pixels) / height).most(24);
  });

  it('leave out what is too thin to be seen, and no more', () => {
    const { document, character, garment } = createSheetScene();
    const [ball] = listRecords(document, 'body');
    const thin = { ...BODY_DEFAULTS, ...ball!, id: 'thin' as RecordId };
    thin.shape = { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.001, radiusB: 0.001 };
    document.records.set(thin.id, thin);
    const levels = proposeLevels(character, document, garment);
    const height = measureHeight(character);
    for (const { pixels, withoutBodies, blend } of levels)
      if (blend > 0) expect(withoutBodies).deep.equal((0.002 * pixels) / height < 3 ? ['thin'] : []);
  });
});

describe('a walk away from the camera', () => {
  it('goes through all levels and back, one after the other, without going to and fro at a bound', () => {
    const scene = createSheetScene([
      level(400, { edgeLength: 0.08 }),
      level(200, { edgeLength: 0.12, rate: 'everyOther' }),
      level(100, { blend: 0 }),
    ]);
    const { bands, setups } = setUpAll(scene);
    const run = startRun(setups[0]!);
    run.play(0);
    run.reset();
    const walk = new LevelRun(run, { bands, band: 0, setUp: (band) => setups[band]!, seconds: 0.1 });
    const seen: number[] = [0];
    const frames = 240;
    for (let frame = 0; frame < frames; frame++) {
      // Away and back, shaking about every bound.
      const share = 1 - Math.abs((2 * frame) / frames - 1);
      const pixels = 600 / (1 + 9 * share) + (frame % 2 === 0 ? 6 : -6);
      if (walk.setPixels(pixels)) seen.push(walk.band);
      run.step();
    }
    expect(seen).deep.equal([0, 1, 2, 3, 2, 1, 0]);
  });

  it('shows no step at any bound beyond what both levels do by themselves, and costs what is told', () => {
    const scene = createSheetScene([level(400, { edgeLength: 0.08 }), level(100, { blend: 0 })]);
    const { setups } = setUpAll(scene);
    const options = { clip: 0, seconds: 0.3, pricing: REFERENCE_PRICING };
    for (const [from, to] of [
      [0, 1],
      [1, 2],
      [2, 0],
    ] as const) {
      const found = measureSwitch(setups[from]!, setups[to]!, options);
      // An eased way of 25 cm in 18 frames is by itself 60 × 25 cm / 18³ / 16 off a cubic where it begins and ends.
      expect(found.jitter, `${from} to ${to}`).most(1.1 * found.ownJitter + 1.6e-4);
      // Both are simulated while it lasts; what poses the joints counts once.
      expect(found.cost).most(found.costFrom + found.costTo);
      expect(found.cost).least(0.9 * (found.costFrom + found.costTo));
    }
    // At once it is a step, and that shows.
    const atOnce = measureSwitch(setups[1]!, setups[2]!, { ...options, seconds: 0 });
    const over = measureSwitch(setups[1]!, setups[2]!, options);
    expect(over.jitter).most(0.05 * atOnce.jitter);
  });
});
