import { expect } from 'chai';
import { priceWork, REFERENCE_COSTS, REFERENCE_PRICING, type UnitCosts } from '../../cost/index.ts';
import { createRandom } from '../../math/index.ts';
import { NO_RUN_TIMES, type RunTimes, setUpRun, startRun, WORK, WORK_UNITS } from '../../run/index.ts';
import type { GarmentSpec } from './garment-spec.ts';
import {
  createCalibrationCharacter,
  createCalibrationDocument,
  FITTED,
  fitUnitCosts,
  listGarmentSpecs,
  sumCounts,
} from './index.ts';

const play = (spec: GarmentSpec, frames = 8) => {
  const character = createCalibrationCharacter(spec);
  const run = startRun(setUpRun(createCalibrationDocument(spec, character), character));
  run.play(0);
  run.reset();
  run.takeWork();
  for (let f = 0; f < frames; f++) run.step();
  return { run, work: run.takeWork() };
};

describe('generated garments', () => {
  const specs = listGarmentSpecs();

  it('are a spread: every kind of work is done by some of those that are fitted to, and they are the same each time', () => {
    const done = new Set<string>();
    for (const spec of specs.slice(0, FITTED)) {
      if (done.size === WORK.length) break;
      const counts = sumCounts(play(spec, 3).work);
      for (const { key } of WORK) if (counts[key] > 0) done.add(key);
    }
    expect(WORK.filter(({ key }) => !done.has(key)).map(({ key }) => key)).deep.equal([]);
    expect(listGarmentSpecs()).deep.equal(specs);
  });

  it('have meshes of the size that is asked for, however many there are', () => {
    for (const spec of [...listGarmentSpecs(1), ...specs]) {
      const { sections } = createCalibrationCharacter(spec);
      expect(sections[0]!.positions.length, spec.name).equal(3 * spec.columns * spec.rows);
      expect(spec.columns * spec.rows).within(100, 1800);
      for (const { positions } of sections) expect(positions.every(Number.isFinite)).equal(true);
    }
  });

  it('count the same work each time, and stay whole', () => {
    const [first, again] = [play(specs[6]!), play(specs[6]!)];
    expect(first.work).deep.equal(again.work);
    for (const { solver } of first.run.garments) expect(solver.recoveredFrames).equal(0);
  });
});

describe('unit costs', () => {
  it('are found again from times that were made of them, with 5 % of noise: within 10 % where they count', () => {
    const random = createRandom(11);
    const truth = Object.fromEntries(WORK_UNITS.map((unit, u) => [unit, 5 + ((37 * u) % 200)])) as UnitCosts;
    const timings = listGarmentSpecs(72, 5).map((spec) => {
      const { work } = play(spec, 3);
      const counts = sumCounts(work);
      const times: RunTimes = { ...NO_RUN_TIMES };
      for (const kind of WORK) {
        const part = 'timedIn' in kind ? kind.timedIn : kind.part;
        times[part] += (1e-6 * counts[kind.key] * truth[kind.unit]) / work.frames;
      }
      for (const part of Object.keys(times) as (keyof RunTimes)[]) times[part] *= 0.95 + 0.1 * random();
      return { work, times };
    });
    const found = fitUnitCosts(timings);
    // What a unit makes of the cost of all garments together.
    const shares = Object.fromEntries(WORK_UNITS.map((unit) => [unit, 0])) as UnitCosts;
    for (const { work } of timings) {
      const counts = sumCounts(work);
      for (const { key, unit } of WORK) shares[unit] += counts[key] * truth[unit];
    }
    const all = Object.values(shares).reduce((sum, share) => sum + share, 0);
    const large = WORK_UNITS.filter((unit) => shares[unit] > 0.02 * all);
    expect(large.length).above(3);
    for (const unit of large) expect(found[unit] / truth[unit], unit).within(0.9, 1.1);
    for (const { work, times } of timings) {
      const took = Object.values(times).reduce((sum, time) => sum + time, 0);
      expect(priceWork(work, { costs: found, framesPerSecond: 60 }).total / took).within(0.88, 1.12);
    }
  });

  it('price work: its parts, its garments with the joints, and its bodies with what is alike', () => {
    const { work } = play(listGarmentSpecs()[25]!);
    const { total, parts, garments } = priceWork(work, REFERENCE_PRICING);
    const sum = (values: Iterable<number>): number => [...values].reduce((all, value) => all + value, 0);
    expect(sum(Object.values(parts))).closeTo(total, 1e-9);
    const joints = (1e-6 * work.joints * REFERENCE_COSTS.joint) / work.frames;
    expect(sum(garments.map((garment) => garment.total)) + joints).closeTo(total, 1e-9);
    // All of the bodies' part that is not of triangles looked at before it is known which body they meet, or of places of them.
    const ofBodies = sum(garments.flatMap(({ bodies }) => [...bodies.values()]));
    const apart =
      sum(
        work.garments.map(
          ({ counts }) =>
            1e-6 *
            (counts.faceTriangles * REFERENCE_COSTS.faceTriangle +
              counts.facePlaces * REFERENCE_COSTS.facePlace),
        ),
      ) / work.frames;
    expect(ofBodies + apart).closeTo(parts.bodies, 1e-9);
    expect(ofBodies).above(0.1);
  });
});
