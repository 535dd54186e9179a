import { expect } from 'chai';
import fc from 'fast-check';
import type { Surface } from '../surface.ts';
import { createRandomSurface } from '../test-surfaces.ts';
import {
  addFin,
  createHand,
  createSleeve,
  createSquare,
  createTJunction,
  createTouching,
  doubleTriangles,
  listUglySurfaces,
  placeElsewhere,
  turnTriangles,
} from '../test-ugly.ts';
import { compareSurfaces, listFaults } from './compare-surfaces.ts';
import { measureSurface } from './measure-surface.ts';
import { mendSource } from './mend-source.ts';
import { remesh } from './remesh.ts';

/** Nothing turned, nothing crowded that was not, pieces and borders kept, and the size where edges are short enough for it. */
function expectSound(source: Surface, edgeLength: number, thickness: number, borderDetail = 0.5): void {
  const made = remesh(source, { edgeLength, borderDetail });
  const { turned, crowded, pieces, loops, area, volume } = compareSurfaces(made, mendSource(source).surface);
  expect(turned, 'turned').equal(0);
  expect(crowded.made, 'crowded').most(1.1 * crowded.source);
  expect(pieces.made, 'pieces').equal(pieces.source);
  expect(loops.made, 'loops').equal(loops.source);
  if (edgeLength >= 0.5 * thickness) return;
  expect(area.made / area.source, 'area').within(0.97, 1.03);
  if (volume) expect(volume.made / volume.source, 'volume').within(0.95, 1.05);
}

describe('remeshing of ugly meshes', function () {
  this.timeout(240_000);
  for (const { name, surface, edgeLength, thickness } of listUglySurfaces()) {
    it(`turns, crowds, tears and loses nothing of ${name}, at three edge lengths`, () => {
      for (const share of [1, 2, 4]) expectSound(surface, share * edgeLength, share < 4 ? thickness : 0);
    });
  }

  it('nor of such meshes of any size, anywhere, at any edge length', () => {
    const numbers = {
      seed: fc.integer({ min: 2, max: 400 }),
      pick: fc.nat(),
      detail: fc.double({ min: 0, max: 1, noNaN: true }),
    };
    const sizes = {
      coarse: fc.double({ min: 0.9, max: 6, noNaN: true }),
      size: fc.double({ min: -2, max: 2, noNaN: true }),
    };
    fc.assert(
      fc.property(
        fc.record({ ...numbers, ...sizes, isAway: fc.boolean() }),
        ({ seed, pick, detail, coarse, size, isAway }) => {
          const list = listUglySurfaces(seed);
          const { surface, edgeLength, thickness } = list[pick % list.length]!;
          const scale = 10 ** size;
          const placed = placeElsewhere(surface, scale, isAway ? 30 * scale : 0);
          // What is coarser than its own features is kept whole, but not in size.
          expectSound(placed, coarse * scale * edgeLength, coarse < 2 ? scale * thickness : 0, detail);
        },
      ),
      { numRuns: 30, seed: 5 },
    );
  });

  it('makes good triangles of few', () => {
    for (const source of [createSquare(1), createSquare(1, 4), createSleeve(8, 0.3, 1), createHand(0.2)]) {
      const figures = measureSurface(remesh(source, { edgeLength: 0.05 }), 0.05);
      expect(figures.smallestAngle).above(20);
      expect(figures.withinTarget).above(0.95);
    }
  });
});

describe('a source before it is remeshed', () => {
  const tube = createSleeve(12, 0.1, 0.6, { rings: 8 });

  it('loses triangles that are there twice, whichever way they face', () => {
    const twice = doubleTriangles(tube, 5, 3);
    expect(mendSource(twice)).deep.include({ doubled: 5, turned: 0, parted: 0, closed: 0 });
    const bothWays = {
      ...tube,
      triangles: Uint32Array.from([...tube.triangles, ...tube.triangles.toReversed()]),
    };
    expect(mendSource(bothWays).surface.triangles).deep.equal(mendSource(tube).surface.triangles);
  });

  it('is joined along a seam that rounding set apart, by less than a thousandth of a hair, and nowhere else', () => {
    // A sheet cut along a line: the points of one side once more, a nanometre and less off.
    for (const [scale, apart] of [
      [1, 1e-9],
      [0.02, 1e-9],
      [100, 1e-6],
    ] as const) {
      const positions = Array.from(createSquare(scale, 4).positions);
      positions.push(0, 0, 0.9 * apart, scale / 2, scale / 2, 0.9 * apart);
      const cut = {
        positions: Float32Array.from(positions),
        triangles: Uint32Array.of(0, 1, 4, 1, 2, 4, 2, 3, 4, 3, 5, 6),
      };
      const { surface, welded } = mendSource(cut);
      expect(welded).equal(2);
      expect(surface.positions.length / 3).equal(5);
      expect(compareSurfaces(surface, createSquare(scale, 4))).deep.include({
        loops: { made: 1, source: 1 },
      });
    }
    const apart = {
      positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0.001, -1, 0, 0, 0, -1, 0),
      triangles: Uint32Array.of(0, 1, 2, 3, 4, 5),
    };
    expect(mendSource(apart).welded).equal(0);
  });

  it('has all triangles of a piece face as most of it does', () => {
    const mended = mendSource(turnTriangles(tube, 10, 4));
    expect(mended.turned).within(8, 10);
    expect(compareSurfaces(mended.surface, tube)).deep.include({ turned: 0 });
    const fin = mendSource(addFin(createSquare(1, 4), 0, 0.3));
    expect(fin.turned).equal(1);
  });

  it('is parted where it touches itself in a point alone', () => {
    const { surface, parted, sources } = mendSource(createTouching(0.5));
    expect(parted).equal(1);
    expect(surface.positions.length / 3).equal(8);
    expect(Array.from(sources).filter((source) => source === 2).length).equal(2);
  });

  it('is closed where a point lies on the open side of a triangle', () => {
    const { surface, closed } = mendSource(createTJunction(0.5));
    expect(closed).equal(1);
    expect(surface.triangles.length / 3).equal(5);
    expect(compareSurfaces(surface, surface).loops.made).equal(1);
  });

  it('stays as it is when it is sound', () => {
    const sound = createRandomSurface(4);
    const { surface, ...counts } = mendSource(sound);
    expect(counts).deep.include({ doubled: 0, turned: 0, parted: 0, closed: 0 });
    expect(surface.triangles.length).equal(sound.triangles.length);
  });
});

describe('the comparison with the source', () => {
  const box = createSleeve(8, 0.1, 0.5, { rings: 3, isClosed: true });
  const open = createSleeve(8, 0.1, 0.5, { rings: 3 });

  it('finds nothing in the source itself', () => {
    const same = compareSurfaces(box, box);
    expect(listFaults(same, 0.05)).eql([]);
    expect(same.deviation).below(1e-6);
    // A prism of eight sides with two low pyramids.
    const side = 4 * 0.1 * 0.1 * Math.sin(Math.PI / 4);
    expect(same.volume!.made).closeTo(side * 0.5 + (2 * side * 0.03) / 3, 1e-7);
  });

  it('counts triangles that face away, but for those of parts thinner than half of them', () => {
    const turned = turnTriangles(box, 4, 2);
    const { turned: count } = compareSurfaces(turned, box);
    expect(count).within(2, 4);
    expect(listFaults(compareSurfaces(turned, box), 0.05).join()).contain(`${count} triangles face away`);
    const thin = createSleeve(4, 0.002, 0.5);
    expect(compareSurfaces(turnTriangles(thin, 3, 1), thin).turned).equal(0);
  });

  it('tells lost pieces, open borders, area, volume and distance, each in a sentence', () => {
    const half = { positions: box.positions, triangles: box.triangles.slice(0, box.triangles.length / 2) };
    const faults = listFaults(compareSurfaces(half, box), 0.05).join(' ');
    expect(faults)
      .match(/It has \d+ open borders; the source has 0/)
      .and.contain('% less than')
      .and.contain('away from the source');
    const grown = { ...box, positions: box.positions.map((value) => 1.1 * value) };
    expect(listFaults(compareSurfaces(grown, box), 0.5).join(' ')).contain('Its volume is 33 % more');
    const moved = {
      ...open,
      positions: open.positions.map((value, i) => (i % 3 === 1 ? 1.5 * value : value)),
    };
    expect(listFaults(compareSurfaces(moved, open), 0.1).join(' ')).contain('Its border is up to 25 cm off');
    const finned = addFin(open, 9, 0.2);
    expect(listFaults(compareSurfaces(finned, open), 0.5).join(' ')).contain(
      'More than two triangles meet along',
    );
    const two = { positions: box.positions, triangles: Uint32Array.from([...box.triangles]) };
    expect(listFaults(compareSurfaces(two, box), 0.5)).eql([]);
  });
});
