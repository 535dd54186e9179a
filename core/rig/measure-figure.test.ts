import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import { measureFigure } from './measure-figure.ts';

describe('the size of a figure', () => {
  for (const scale of [0.02, 1, 20]) {
    it(`is that of its box, wherever it stands (${scale} m)`, () => {
      const sheet = createSheet(4, 4, (u, v) => [scale * (u + 3), scale * (2 - v), 0]);
      const figure = measureFigure(createTestCharacter(sheet.positions, sheet.triangles));
      const box = (k: number): [number, number] => {
        const values = Array.from(
          { length: sheet.positions.length / 3 },
          (_, v) => sheet.positions[3 * v + k]!,
        );
        return [Math.min(...values), Math.max(...values)];
      };
      const [[left, right], [bottom, top]] = [box(0), box(1)];
      expect(figure.width).closeTo(right - left, 1e-6 * scale);
      expect(figure.height).closeTo(top - bottom, 1e-6 * scale);
      expect(figure.depth).closeTo(0, 1e-6 * scale);
      expect(figure.size).equal(Math.max(figure.width, figure.height));
      expect(figure.lowest).closeTo(bottom, 1e-6 * scale);
      expect(figure.middle[0]).closeTo((left + right) / 2, 1e-6 * scale);
    });
  }

  it('is one metre of nothing, so that there is something to look at', () => {
    const sheet = createSheet(2, 2, (u, v) => [u, v, 0]);
    const character = createTestCharacter(sheet.positions, sheet.triangles);
    expect(measureFigure({ ...character, sections: [] })).include({ size: 1, lowest: 0 });
  });
});
