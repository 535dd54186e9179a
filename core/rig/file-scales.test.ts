import { expect } from 'chai';
import fc from 'fast-check';
import { readCharacter } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { bakeScales, type FileScales, restoreScales } from './file-scales.ts';
import type { Character } from './index.ts';
import { listPositions } from './test-positions.ts';

function expectSamePositions(p: Character, q: Character): void {
  const [ours, theirs] = [listPositions(p), listPositions(q)];
  expect(ours.length).equal(theirs.length).and.above(1);
  ours.forEach((positions, k) => {
    const worst = positions.reduce((most, value, i) => Math.max(most, Math.abs(value - theirs[k]![i]!)), 0);
    expect(worst).below(2e-6 * Math.max(1, ...positions.map(Math.abs)));
  });
}

const readStrip = async (): Promise<Character> =>
  (await readCharacter([{ name: 'strip.glb', bytes: createStrip().toGlb() }])).character;

/** The character as a file would have it whose root counts otherwise, with more scales further down. */
function rescale(character: Character, root: number, random: () => number): [Character, FileScales] {
  const scales: FileScales = {
    nodes: Float64Array.from(character.skeleton.names, (_, node) =>
      node === 0 ? root : root * (0.5 + random()),
    ),
    skins: Float64Array.from(character.skins, () => root),
  };
  return [restoreScales(character, scales), scales];
}

describe('scales of a file', () => {
  it('are worked in, wherever they stand: nothing moves, and every space counts in metres', async () => {
    const strip = await readStrip();
    fc.assert(
      fc.property(
        fc.constantFrom(0.01, 0.0254, 100, 1 / 3),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 8, maxLength: 8 }),
        (root, numbers) => {
          let at = 0;
          const [scaled] = rescale(strip, root, () => numbers[at++ % numbers.length]!);
          expectSamePositions(scaled, strip);
          const { character, scales } = bakeScales(scaled);
          expectSamePositions(character, strip);
          for (const value of character.skeleton.scales) expect(value).closeTo(1, 1e-5);
          character.sections.forEach((section, index) => {
            expect(section.positions.length).equal(strip.sections[index]!.positions.length);
            section.positions.forEach((value, i) => {
              expect(value).closeTo(strip.sections[index]!.positions[i]!, 1e-4);
            });
          });
          const back = restoreScales(character, scales);
          back.skeleton.translations.forEach((value, i) => {
            expect(value).closeTo(scaled.skeleton.translations[i]!, 1e-6 * Math.abs(value) + 1e-9);
          });
          expectSamePositions(back, strip);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('stay as they are where they stretch one way, mirror, or are moved by a clip', async () => {
    const strip = await readStrip();
    const odd: Character = {
      ...strip,
      skeleton: {
        ...strip.skeleton,
        scales: strip.skeleton.scales.map((value, i) => value * [2, -0.5, 3][i % 3]!),
      },
      clips: strip.clips.map((clip) => ({
        ...clip,
        tracks: [
          ...clip.tracks,
          {
            node: 1,
            path: 'scale' as const,
            interpolation: 'LINEAR' as const,
            times: Float32Array.of(0, 1),
            values: Float32Array.of(2, -0.5, 3, 4, -1, 3),
          },
        ],
      })),
    };
    const { character } = bakeScales(odd);
    expectSamePositions(character, odd);
    for (let node = 0; node < odd.skeleton.names.length; node++) {
      const [x, y, z] = character.skeleton.scales.subarray(3 * node);
      expect(Math.cbrt(x! * y! * z!)).closeTo(-1, 1e-9);
    }
  });

  it('are none where all are one: the very character', async () => {
    const strip = await readStrip();
    const same = bakeScales(strip);
    expect(same.scales).equal(null);
    expect(same.character).equal(strip);
  });
});
