import { expect } from 'chai';
import { createRandom } from './random.ts';
import { solveDense } from './solve-dense.ts';
import { solveNonNegative } from './solve-non-negative.ts';

/** The least sum of squares over all choices of which numbers are 0: by trying each. */
function solveByTrying(matrix: Float64Array, right: Float64Array, n: number): Float64Array {
  let best = new Float64Array(n);
  let least = measure(matrix, right, best);
  for (let bits = 1; bits < 2 ** n; bits++) {
    const free = Array.from({ length: n }, (_, k) => k).filter((k) => (bits >> k) & 1);
    const gram = Float64Array.from(free.flatMap((i) => free.map((j) => dotColumns(matrix, n, i, j))));
    const dotted = Float64Array.from(free, (i) =>
      right.reduce((sum, b, r) => sum + b * matrix[n * r + i]!, 0),
    );
    const solved = solveDense(gram, dotted);
    if (solved.some((value) => value < 0)) continue;
    const x = new Float64Array(n);
    free.forEach((k, i) => {
      x[k] = solved[i]!;
    });
    const squares = measure(matrix, right, x);
    if (squares >= least) continue;
    least = squares;
    best = x;
  }
  return best;
}

const dotColumns = (matrix: Float64Array, n: number, i: number, j: number): number => {
  let sum = 0;
  for (let o = 0; o < matrix.length; o += n) sum += matrix[o + i]! * matrix[o + j]!;
  return sum;
};

function measure(matrix: Float64Array, right: Float64Array, x: Float64Array): number {
  return right.reduce((sum, b, r) => {
    const left = x.reduce((value, each, k) => value + each * matrix[x.length * r + k]!, 0);
    return sum + (left - b) ** 2;
  }, 0);
}

describe('least squares with nothing below 0', () => {
  it('finds what trying every choice of zeros finds', () => {
    const random = createRandom(3);
    let bound = 0;
    for (let round = 0; round < 60; round++) {
      const [n, m] = [2 + (round % 4), 9];
      const matrix = Float64Array.from({ length: n * m }, () => random() - 0.3);
      const right = Float64Array.from({ length: m }, () => random() - 0.3);
      const found = solveNonNegative(matrix, right);
      const tried = solveByTrying(matrix, right, n);
      found.forEach((value, k) => {
        expect(value).at.least(0);
        expect(value).closeTo(tried[k]!, 1e-6);
        if (value === 0) bound++;
      });
    }
    expect(bound).above(20);
  });

  it('gives numbers of very different sizes alike, and 0 to a column of nothing', () => {
    const wanted = [1e-6, 3e4, 0.5];
    const random = createRandom(5);
    const rows = Array.from({ length: 12 }, () => [1e6 * random(), 1e-4 * random(), random()]);
    const right = Float64Array.from(rows, (row) =>
      row.reduce((sum, value, k) => sum + value * wanted[k]!, 0),
    );
    const found = solveNonNegative(Float64Array.from(rows.flatMap((row) => [...row, 0])), right);
    wanted.forEach((value, k) => {
      expect(found[k]! / value).closeTo(1, 1e-6);
    });
    expect(found[3]).equal(0);
  });

  it('shares what two columns say alike between them, and is finite', () => {
    const found = solveNonNegative(Float64Array.of(1, 1, 2, 2, 3, 3), Float64Array.of(2, 4, 6));
    expect(found[0]! + found[1]!).closeTo(2, 1e-5);
  });
});
