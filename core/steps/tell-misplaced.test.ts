import { expect } from 'chai';
import { createSleeve } from '../mesh/test-ugly.ts';
import { tellMisplaced } from './tell-misplaced.ts';

describe('a garment that lies nowhere on the body', () => {
  const body = createSleeve(12, 0.2, 1.8).positions;
  const place = (factor: number, away = 0): Float32Array =>
    createSleeve(12, 0.35, 0.6).positions.map((value, i) => factor * value + (i % 3 === 0 ? away : 0));

  it('was made in another unit: by which factor', () => {
    expect(tellMisplaced(place(100), body)).contain('Scaled by 0.01 it would fit');
    expect(tellMisplaced(place(1000), body)).contain('Scaled by 0.001 it would fit');
    expect(tellMisplaced(place(39.37), body)).match(
      /Scaled by 0\.0254 it would fit|Scaled by 0\.01 it would fit/,
    );
    expect(tellMisplaced(place(0.01), body)).contain('Scaled by 100 it would fit');
  });

  it('lies elsewhere: how far', () => {
    expect(tellMisplaced(place(1, 5), body)).match(/it lies 5\.\d+ m away/);
    expect(tellMisplaced(place(1, -50), body)).match(/it lies 50 m away/);
  });

  it('is worn wide: nothing is wrong with it', () => {
    expect(tellMisplaced(place(1), body)).equal(null);
    expect(tellMisplaced(place(1.3, 0.2), body)).equal(null);
  });
});
