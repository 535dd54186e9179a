import { expect } from 'chai';
import {
  createCalibrationCharacter,
  createCalibrationDocument,
  listTargetGarments,
} from '../budget/index.ts';
import { setUpRun, startRun, sumWork } from '../run/index.ts';
import { listPrices, priceWork, REFERENCE_PRICING } from './index.ts';

describe('what work costs in frames of another rate', () => {
  const spec = (name: string) => listTargetGarments().find((garment) => garment.spec.name === name)!.spec;

  /** What a second of a garment does, in frames of a rate. */
  function play(name: string, rate: number) {
    const character = createCalibrationCharacter(spec(name));
    const run = startRun(setUpRun(createCalibrationDocument(spec(name), character), character));
    run.play(0);
    run.reset();
    for (let frame = 0; frame < rate; frame++) run.step(1, 1 / rate);
    run.takeWork();
    for (let frame = 0; frame < rate; frame++) run.step(1, 1 / rate);
    return run.takeWork();
  }

  for (const [name, tolerance] of [
    ['plain large', 0.02],
    ['stiff', 0.02],
    ['wind', 0.04],
    ['drawn fine', 0.02],
    // How hard cloth lies on things is another matter in longer frames.
    ['layers', 0.16],
    ['bodies few', 0.16],
    ['self vertices', 0.05],
  ] as const)
    it(`is what it is when frames are simulated so long: ${name}`, () => {
      const [usual, long] = [play(name, 60), play(name, 30)];
      expect(long.seconds).closeTo(1, 1e-6);
      const at = (framesPerSecond: number) => ({ ...REFERENCE_PRICING, framesPerSecond });
      const told = priceWork(usual, at(30)).total;
      const simulated = priceWork(long, at(30)).total;
      expect(told / simulated).within(1 - tolerance, 1 + tolerance);
      // Longer frames do more, but not twice as much: they are posed and drawn once all the same.
      expect(told / priceWork(usual, at(60)).total).within(1.01, 1.99);
      expect(priceWork(long, at(60)).total / priceWork(usual, at(60)).total).within(
        1 - tolerance,
        1 + tolerance,
      );
    });

  it('is the sum of its garments and of what is of none', () => {
    const work = play('layers', 60);
    const { total, garments } = priceWork(work, REFERENCE_PRICING);
    const joints = (listPrices(REFERENCE_PRICING, 60).joints * work.joints) / work.frames;
    expect(garments.reduce((sum, each) => sum + each.total, joints)).closeTo(total, 1e-9);
    // Work of two seconds costs on the mean what that of one does.
    expect(priceWork(sumWork([work, work])!, REFERENCE_PRICING).total).closeTo(total, 1e-9);
  });
});
