import { expect } from 'chai';
import { listLikelyScales } from './likely-scales.ts';

describe('likely scales of a file', () => {
  const units = (height: number): string[] => listLikelyScales(height).map(({ unit }) => unit);

  it('are none for what may be as tall as it is', () => {
    for (const height of [0.3, 1.7, 5]) expect(units(height)).deep.equal([]);
  });

  it('name the unit in which a grown figure is that tall', () => {
    expect(units(180)).deep.equal(['centimetres']);
    expect(units(1800)).deep.equal(['millimetres']);
    expect(units(70)).deep.equal(['inches']);
    expect(units(0.018)).deep.equal(['metres, and read as centimetres']);
    for (const { factor } of listLikelyScales(0.018)) expect(0.018 * factor).closeTo(1.8, 1e-9);
  });

  it('are none where no unit fits: a ring, a giant', () => {
    expect(units(0.02e-3)).deep.equal([]);
    expect(units(20)).deep.equal([]);
  });
});
