import { expect } from 'chai';
import { createRandomSurface } from '../test-surfaces.ts';
import { createSleeve, createSquare, placeElsewhere } from '../test-ugly.ts';
import { estimateRemesh, refuseTooDear } from './estimate-remesh.ts';
import { remesh } from './remesh.ts';

describe('what a remesh takes', () => {
  it('is known beforehand: triangles within a quarter', () => {
    for (const [source, edgeLength] of [
      [createSquare(1), 0.05],
      [createRandomSurface(1), 0.04],
      [createRandomSurface(2), 0.03],
      [createSleeve(12, 0.1, 0.8), 0.03],
      [placeElsewhere(createSleeve(12, 0.1, 0.8), 100, 40), 3],
    ] as const) {
      const made = remesh(source, { edgeLength, borderDetail: 0 }).triangles.length / 3;
      expect(estimateRemesh(source, edgeLength).triangles / made).within(0.75, 1.25);
    }
  });

  it('in time: in proportion to what is made, within twice what one length takes for another', () => {
    const source = createRandomSurface(3);
    const time = (edgeLength: number): number => {
      const start = process.cpuUsage();
      remesh(source, { edgeLength, borderDetail: 0.5 });
      const { user, system } = process.cpuUsage(start);
      return (user + system) / 1e6 / estimateRemesh(source, edgeLength).seconds;
    };
    time(0.03);
    // The least of some rounds in turn: a busy host makes single ones dear.
    const rounds = Array.from({ length: 4 }, () => [time(0.02), time(0.01)] as const);
    const [coarse, fine] = [0, 1].map((k) => Math.min(...rounds.map((round) => round[k]!))) as [
      number,
      number,
    ];
    expect(fine / coarse).within(0.5, 2);
  });

  it('is refused when it is too much, with an edge length that is not; less strictly when it is forced', () => {
    const square = createSquare(1);
    const tell = (edgeLength: number, isForced: boolean): string => {
      try {
        refuseTooDear(square, edgeLength, isForced);
      } catch (error) {
        return (error as Error).message;
      }
      return '';
    };
    expect(tell(0.01, false)).equal('');
    const message = tell(0.001, false);
    expect(message).match(
      /^edges of 0\.1 cm make about 2,309,\d{3} triangles and take about 8 minutes; at most 60 s\. Take [\d.]+ cm or more\.$/,
    );
    const [, proposed] = /Take ([\d.]+) cm/.exec(message)!;
    expect(tell(Number(proposed) / 100, false)).equal('');
    expect(tell(0.9 * (Number(proposed) / 100), false)).not.equal('');
    expect(tell(0.001, true)).equal('');
    // A source so large that it alone takes too long: no edge length helps.
    const vast = { positions: square.positions, triangles: new Uint32Array(3 * 1_300_000) };
    expect(() => refuseTooDear(vast, 0.1)).throw(
      RangeError,
      /1,300,000 triangles that there are\. Thin them out/,
    );
    expect(() => refuseTooDear(vast, 0.1, true)).not.throw();
    expect(tell(0.0005, true)).contain('at most 3,000,000 triangles');
  });
});
