import { expect } from 'chai';
import { NO_WIND } from '../cloth/index.ts';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import { createSkirt, createWardrobe } from '../prepare/test-wardrobe.ts';
import type { Character, Clip } from '../rig/index.ts';
import { findSeam, measureReachNeed, setUpGarments, shapeReach } from './index.ts';

const [LEG, SKIRT] = [0, 1];
const ID = 'id-2' as RecordId;

/** The hip turns to and fro, and the skirt swings after it. */
function createSwing(degrees: number): Clip {
  const half = (degrees * Math.PI) / 360;
  const [s, c] = [Math.sin(half), Math.cos(half)];
  const values = Float32Array.of(0, 0, 0, 1, 0, 0, s, c, 0, 0, -s, c, 0, 0, 0, 1);
  const track = {
    node: 0,
    path: 'rotation',
    interpolation: 'LINEAR',
    times: Float32Array.of(0, 0.2, 0.6, 0.8),
    values,
  };
  return { name: `swing ${degrees}`, duration: 0.8, tracks: [track] } as Clip;
}

function setUp(): { character: Character; setups: ReturnType<typeof setUpGarments>; heights: number[] } {
  const character = createWardrobe();
  character.clips = [createSwing(0), createSwing(50)];
  const document = createDocument();
  let ids = 0;
  const made = createGarment(character, document, SKIRT, () => `id-${++ids}` as RecordId);
  insertGarment(document, made);
  expect(made.garment.id).equal('id-3');
  const setups = setUpGarments(character, document).map((setup) => ({ ...setup, id: ID }));
  const { restPositions, weldedOfPoint } = setups[0]!.compiled;
  const heights: number[] = [];
  weldedOfPoint.forEach((welded, i) => {
    heights[welded] = restPositions[4 * i + 1]!;
  });
  return { character, setups, heights };
}

function finish(measuring: Generator<number, Float32Array>): { need: Float32Array; shares: number[] } {
  const shares: number[] = [];
  for (;;) {
    const next = measuring.next();
    if (next.done) return { need: next.value, shares };
    shares.push(next.value);
  }
}

describe('a suggested map of max distances', () => {
  const { character, setups, heights } = setUp();
  const top = Math.max(...heights);
  const seam = findSeam(setups[0]!);
  const whole = { character, base: character, garments: setups, bodySections: [LEG], wind: NO_WIND };
  const options = { garmentId: ID, seam: null };
  const suggest = (clips: readonly number[]): { values: Float32Array; shares: number[] } => {
    const runs = clips.map((clip) => finish(measureReachNeed(whole, options, clip)));
    const needs = runs.map(({ need }) => need);
    return { values: shapeReach(whole, options, needs), shares: runs.flatMap(({ shares }) => shares) };
  };

  it('holds the border that lies highest, or what is held already', () => {
    expect(heights.every((height, point) => (seam[point] === 1) === height > top - 0.01)).equal(true);
    const held = setups[0]!.maxDistances.map((_, point) => (point < 7 ? 0 : 1));
    expect([...findSeam({ ...setups[0]!, maxDistances: held })].filter((isIn) => isIn)).length(7);
  });

  it('holds each loose piece by its own top: a badge as well as the skirt, and a sheet by its upper edge', () => {
    const badge = createSheet(3, 3, (u, v) => [0.3 + 0.05 * u, -0.3 - 0.05 * v, 0.2]);
    const { positions, triangles } = createSkirt();
    const count = positions.length / 3;
    const sheet = createTestCharacter(
      Float32Array.of(...positions, ...badge.positions),
      Uint32Array.of(...triangles, ...badge.triangles.map((i) => i + count)),
    );
    const document = createDocument();
    let ids = 0;
    const made = createGarment(sheet, document, 0, () => `id-${++ids}` as RecordId);
    insertGarment(document, made);
    const [both] = setUpGarments(sheet, document);
    const found = findSeam(both!);
    const heightsOf = [...found.keys()].filter((p) => found[p]);
    // The ring of the skirt, and the upper row of the badge.
    const points = made.maxDistances.length;
    const badgeFrom = points - 16;
    expect(heightsOf.filter((p) => p >= badgeFrom)).deep.equal([0, 1, 2, 3].map((c) => badgeFrom + c));
    expect(heightsOf.filter((p) => p < badgeFrom).length).equal(40);
  });

  it('rises from the seam to what the clips need, and never beyond what the seam lets', () => {
    const { values, shares } = suggest([1]);
    expect(shares.at(-1)).equal(1);
    expect(shares.every((share, k) => share > (shares[k - 1] ?? 0))).equal(true);
    values.forEach((value, point) => {
      if (seam[point]) expect(value).equal(0);
      else expect(value).within(1e-4, 1.25 * (top - heights[point]!) + 0.03);
    });
    const meanOf = (from: number, to: number): number => {
      const within = [...values].filter(
        (_, point) => heights[point]! < top - from && heights[point]! > top - to,
      );
      return within.reduce((sum, value) => sum + value, 0) / within.length;
    };
    const height = top - Math.min(...heights);
    expect(meanOf(0.7 * height, height)).above(2 * meanOf(0.02, 0.3 * height));
  });

  it('is larger for a wilder clip', () => {
    const sum = (values: Float32Array): number => values.reduce((total, value) => total + value, 0);
    const [still, wild] = [suggest([0]), suggest([0, 1])];
    expect(sum(wild.values)).above(1.3 * sum(still.values));
  });

  it('asks for a seam', () => {
    const none = { garmentId: ID, seam: new Uint8Array(seam.length) };
    expect(() => measureReachNeed(whole, none, 0).next()).throw('No seam is picked');
    const other = { garmentId: ID, seam: new Uint8Array(seam.length + 1).fill(1) };
    expect(() => shapeReach(whole, other, [])).throw('picked on another mesh');
  });

  it('is the same for a seam that is told and one that is found', () => {
    const told = shapeReach(whole, { garmentId: ID, seam }, [new Float32Array(seam.length).fill(0.1)]);
    expect(told).deep.equal(shapeReach(whole, options, [new Float32Array(seam.length).fill(0.1)]));
  });
});
