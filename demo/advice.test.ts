import { expect } from 'chai';
import {
  advise,
  applyBudgetChanges,
  type BudgetChange,
  proposeChanges,
  summariseAsset,
  tellChange,
  tellPlaceOf,
} from '../core/advice/index.ts';
import type { BodyShape } from '../core/bodies/index.ts';
import { REFERENCE_PRICING } from '../core/cost/index.ts';
import { BODY_DEFAULTS, listGarments, listRecords, type RecordId } from '../core/document/index.ts';
import { setUpRun, sumWork } from '../core/run/index.ts';
import { collectRows, resolveAllLimits, runTrial, sumCaseWork } from '../core/trials/index.ts';
import { createFerryPilot, createPilotDocument } from './index.ts';

describe('what to change first on the Ferry pilot', function () {
  this.timeout(240_000);

  it('names the waste that was planted first, and gets under the budget without breaking a limit', async () => {
    const pilot = await createFerryPilot();
    const document = createPilotDocument(pilot);
    const clip = pilot.clips.findIndex(({ name }) => name === 'walk');
    const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
    const play = (changes: readonly BudgetChange[]) => {
      const changed = applyBudgetChanges(pilot, document, changes);
      const frames = [
        ...runTrial(setUpRun(changed.document, changed.character), { motion: { kind: 'clip', clip } }),
      ];
      return collectRows('walk', frames, names);
    };
    const sound = summariseAsset([play([])]);
    // Planted: bodies that no cloth comes near, and three times the substeps.
    const [set] = listRecords(document, 'bodySet');
    for (let i = 0; i < 8; i++) {
      const id = `waste-${i}` as RecordId;
      const shape: BodyShape = {
        kind: 'taperedCapsule',
        a: [0.5 * i, 3, 0],
        b: [0.5 * i, 4, 0],
        radiusA: 0.1,
        radiusB: 0.1,
      };
      document.records.set(id, {
        type: 'body',
        id,
        bodySetId: set!.id,
        name: id,
        jointName: 'hips',
        ...BODY_DEFAULTS,
        shape,
      });
    }
    const poncho = listGarments(document).find(({ name }) => name === 'Poncho')!;
    const fabric = document.records.get(poncho.fabricId)!;
    if (fabric.type !== 'fabric') throw new Error('no fabric');
    const usual = fabric.settings.substepsPerSecond;
    document.records.set(fabric.id, {
      ...fabric,
      settings: { ...fabric.settings, substepsPerSecond: 3 * usual },
    });
    const limits = resolveAllLimits(document);
    const budget = 1.25 * sound.cost;
    const tryOut = async (changes: readonly BudgetChange[]) => {
      const rows = play(changes);
      const work = sumWork([sumCaseWork(rows)!])!;
      if (changes.length > 0) return { figures: summariseAsset([rows]), proposals: [] };
      const all = proposeChanges(pilot, document, work, REFERENCE_PRICING);
      for (const kind of ['dropBodies', 'substeps', 'simMesh', 'hold'] as const)
        expect(
          all.some((change) => change.kind === kind),
          kind,
        ).equal(true);
      // A few of each kind; each takes seconds.
      const bodies = all.filter(({ kind }) => kind === 'dropBodies').slice(0, 2);
      const some = [
        ...bodies,
        ...all.filter((change) => 'fabricId' in change && change.fabricId === fabric.id),
      ];
      return { figures: summariseAsset([rows]), proposals: some };
    };
    const { before, singles, best } = await advise(tryOut, limits, budget);
    expect(before!.cost).above(1.4 * sound.cost);
    const told = singles.map(({ changes }) => tellChange(document, changes[0]!));
    // Some of the demo's own bodies are near no cloth on this clip either, not even while it settles.
    expect(told[0]).match(/^Remove (8|9|1\d) bodies that nothing touches$/);
    expect(singles[0]!.harm).equal(0);
    expect(told[1]).match(/^Poncho: \d+ substeps a frame$/);
    expect(best!.figures.cost).most(budget);
    expect(best!.breaks).deep.equal([]);
    // What holds the cloth off the arms is known to break limits, and stands behind all that does not.
    const firstBroken = singles.findIndex(({ breaks }) => breaks.length > 0);
    expect(singles.slice(firstBroken).every(({ breaks }) => breaks.length > 0)).equal(true);
    // Applied, it costs what was told.
    const applied = summariseAsset([play(best!.changes)]);
    expect(applied).deep.equal(best!.figures);
    for (const change of best!.changes) expect(tellPlaceOf(change)).match(/^(bodies|substeps)/);
  });
});
