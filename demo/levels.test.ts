import { expect } from 'chai';
import { priceWork, REFERENCE_PRICING } from '../core/cost/index.ts';
import { CAMERA_DEFAULTS, type CrowdMember, findBandAt, pixelsAt, planCrowd } from '../core/crowd/index.ts';
import { type AuthoredDocument, listGarments } from '../core/document/index.ts';
import {
  LevelRun,
  listBands,
  makeLevelMeshes,
  measureHeight,
  measureSwitch,
  proposeLevels,
  setUpLevel,
} from '../core/levels/index.ts';
import type { Character } from '../core/rig/index.ts';
import { FRAME_RATE, GarmentCache, startRun } from '../core/run/index.ts';
import { createFerryPilot, createPilotDocument } from './index.ts';

/** The pilot at every band of the levels that are proposed. */
function setUpBands(character: Character, document: AuthoredDocument) {
  for (const garment of listGarments(document))
    document.records.set(garment.id, { ...garment, levels: proposeLevels(character, document, garment) });
  const bands = listBands(listGarments(document));
  const made = makeLevelMeshes(character, document, bands);
  expect(made.faults).deep.equal([]);
  const cache = new GarmentCache();
  return { bands, setups: bands.map((band) => setUpLevel(document, made, band, { cache })) };
}

describe('levels of detail of the Ferry pilot', function () {
  this.timeout(120_000);
  let pilot: Character;
  let levels: ReturnType<typeof setUpBands>;
  let clip: number;
  /** ms a frame at each band over one round of the clip, and while going over to it. */
  let costs: number[];

  before(async () => {
    pilot = await createFerryPilot();
    levels = setUpBands(pilot, createPilotDocument(pilot));
    clip = pilot.clips.findIndex(({ name }) => name === 'walk');
    costs = levels.setups.map((setup) => {
      const run = startRun(setup);
      run.play(clip);
      run.reset();
      const frames = Math.round(run.duration * FRAME_RATE);
      for (let frame = 0; frame < 2 * frames; frame++) {
        if (frame === frames) run.takeWork();
        run.step();
      }
      return priceWork(run.takeWork(), REFERENCE_PRICING).total;
    });
  });

  it('cost less from each to the next, and next to nothing at the last', () => {
    costs.slice(1).forEach((cost, b) => {
      expect(cost).below(costs[b]!);
    });
    expect(costs.at(-1)).below(0.05 * costs[0]!);
  });

  it('are gone through on a walk away from the camera: the cost falls as told', () => {
    const { bands, setups } = levels;
    const run = startRun(setups[0]!);
    run.play(clip);
    run.reset();
    const walk = new LevelRun(run, { bands, band: 0, setUp: (band) => setups[band]!, seconds: 0.3 });
    const height = measureHeight(pilot);
    const seen = new Map<number, { cost: number; frames: number }>();
    // 1.5 m a second would take minutes; a car takes the camera away.
    for (let frame = 0; frame < 480; frame++) {
      const distance = 1.5 * Math.exp(frame / 100);
      walk.setPixels(pixelsAt(CAMERA_DEFAULTS, height, distance));
      const wasSwitching = run.isSwitching;
      run.step();
      const { total } = priceWork(run.takeWork(), REFERENCE_PRICING);
      if (wasSwitching) continue;
      const entry = seen.get(walk.band) ?? { cost: 0, frames: 0 };
      seen.set(walk.band, { cost: entry.cost + total, frames: entry.frames + 1 });
    }
    expect([...seen.keys()]).deep.equal(bands.map((_, b) => b));
    for (const [band, { cost, frames }] of seen) {
      expect(frames, `band ${band}`).greaterThan(20);
      expect(cost / frames, `band ${band}`).within(0.85 * costs[band]!, 1.15 * costs[band]!);
    }
  });

  it('go over into each other without a step beyond what the garments do by themselves', () => {
    const { setups } = levels;
    for (let band = 1; band < setups.length; band++) {
      const options = { clip, seconds: 0.3, pricing: REFERENCE_PRICING };
      const away = measureSwitch(setups[band - 1]!, setups[band]!, options);
      expect(away.jitter, `to band ${band}`).most(1.1 * away.ownJitter + 1e-4);
    }
  });

  it('make crowds that cost what simulating them all does, within 15 %', () => {
    const { bands, setups } = levels;
    const member: CrowdMember = {
      id: 'pilot',
      name: 'Pilot',
      height: measureHeight(pilot),
      bands: bands.map(({ from }, b) => ({ from, cost: costs[b]!, switchCost: null })),
    };
    const groups = [
      { memberId: 'pilot', count: 4, near: 1, far: 3 },
      { memberId: 'pilot', count: 6, near: 3, far: 20 },
    ];
    const plan = planCrowd([member], groups, CAMERA_DEFAULTS, { budget: 100, cores: 1 });
    // Each of them by itself, at its own moment of the clip, for as long as a glance.
    let sum = 0;
    plan.groups.forEach(({ counts }) => {
      counts.forEach((count, band) => {
        for (let i = 0; i < count; i++) {
          const run = startRun(setups[band]!);
          run.play(clip, (0.37 * (i + 2 * band)) % 1);
          run.reset();
          for (let frame = 0; frame < 40; frame++) {
            if (frame === 10) run.takeWork();
            run.step();
          }
          sum += priceWork(run.takeWork(), REFERENCE_PRICING).total;
        }
      });
    });
    expect(plan.count).equal(10);
    expect(plan.groups[1]!.counts.filter((count) => count > 0).length).greaterThan(1);
    expect(sum / plan.sum).within(0.85, 1.15);
    expect(findBandAt(member, CAMERA_DEFAULTS, 1)).equal(0);
  });

  it('cost in the worst second, when all of a crowd go over at once, what simulating that does, within 15 %', () => {
    const { bands, setups } = levels;
    const options = { clip, seconds: 0.3, pricing: REFERENCE_PRICING };
    const switches = setups.slice(1).map((to, b) => measureSwitch(setups[b]!, to, options));
    const member: CrowdMember = {
      id: 'pilot',
      name: 'Pilot',
      height: measureHeight(pilot),
      bands: bands.map(({ from }, b) => ({
        from,
        cost: costs[b]!,
        switchCost: switches[b - 1]?.cost ?? null,
      })),
    };
    const groups = [{ memberId: 'pilot', count: 5, near: 2, far: 12 }];
    const plan = planCrowd([member], groups, CAMERA_DEFAULTS, { budget: 100, cores: 1 });
    let sum = 0;
    plan.groups[0]!.counts.forEach((count, band) => {
      // The dearer of its two bounds: from the band before, or to the next.
      const next = switches[band]?.cost ?? 0;
      const isNext = next > (switches[band - 1]?.cost ?? 0);
      const [from, to] = isNext ? [band, band + 1] : [band - 1, band];
      for (let i = 0; i < count; i++) {
        const run = startRun(setups[from]!);
        run.play(clip, (0.29 * i) % 1);
        run.reset();
        for (let frame = 0; frame < 20; frame++) run.step();
        run.takeWork();
        run.switchTo(setups[to]!, 0.3);
        for (let frame = 0; frame < 18; frame++) run.step();
        sum += priceWork(run.takeWork(), REFERENCE_PRICING).total;
      }
    });
    expect(sum / plan.worstSum).within(0.85, 1.15);
    expect(plan.worstSum).above(1.3 * plan.sum);
  });
});
