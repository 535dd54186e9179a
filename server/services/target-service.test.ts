import { expect } from 'chai';
import { parseTargetFile, writeTargetFile } from '../../core/budget/index.ts';
import {
  MACHINE_ID,
  REFERENCE_COSTS,
  REFERENCE_PRICING,
  REFERENCE_PROFILE,
  TARGET_DEFAULTS,
  type TargetProfile,
} from '../../core/cost/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { Character } from '../entities/entities.ts';
import { TaskStage } from '../tasks/test-tasks.ts';
import { keepCostProfile } from './cost-service.ts';
import {
  chooseTarget,
  createTarget,
  editTarget,
  listTargets,
  readCharacterPricing,
  readTarget,
  removeTarget,
} from './target-service.ts';

const HANDHELD: Omit<TargetProfile, 'id'> = {
  ...TARGET_DEFAULTS,
  name: 'Handheld',
  framesPerSecond: 30,
  costs: {
    ...REFERENCE_PROFILE,
    name: 'Timings',
    source: 'timings',
    costs: { ...REFERENCE_COSTS, edge: 40 },
    groups: [{ key: 'stretch', factor: 3, error: 0.1, isAssumed: false }],
    timed: [],
  },
};

describe('target profiles', function () {
  this.timeout(60_000);
  let stage: TaskStage;

  before(async () => {
    stage = await TaskStage.open(createScene({}).document);
  });

  after(() => stage.close());

  const em = () => stage.orm.em.fork();

  async function readProject(): Promise<string> {
    const { project } = await em().findOneOrFail(Character, { id: stage.characterId });
    return project.id;
  }

  it('begin with this machine: 2 ms of a frame, at what it was measured to cost', async () => {
    const [machine, ...others] = await listTargets(em());
    expect(others).deep.equal([]);
    expect(machine).deep.include({ id: MACHINE_ID, ...TARGET_DEFAULTS, costs: REFERENCE_PROFILE });
    expect(await readCharacterPricing(em(), stage.characterId)).deep.equal(REFERENCE_PRICING);
    await editTarget(em(), MACHINE_ID, { framesPerSecond: 120 });
    await keepCostProfile(em(), { ...REFERENCE_PROFILE, name: 'This machine', source: 'machine' });
    const [measured] = await listTargets(em());
    expect(measured).deep.include({ name: 'This machine', framesPerSecond: 120, share: 0.12 });
    await editTarget(em(), MACHINE_ID, { budgetMilliseconds: 0.5 });
    expect(await readTarget(em(), MACHINE_ID)).include({ framesPerSecond: 120, budgetMilliseconds: 0.5 });
  });

  it('are kept, and every figure of a project that chose one goes by it', async () => {
    const kept = await createTarget(em(), HANDHELD);
    expect(kept).deep.equal({ id: kept.id, ...HANDHELD });
    expect((await listTargets(em())).map(({ name }) => name)).deep.equal(['This machine', 'Handheld']);
    await chooseTarget(em(), await readProject(), kept.id);
    expect(await readCharacterPricing(em(), stage.characterId)).deep.equal({
      costs: HANDHELD.costs.costs,
      framesPerSecond: 30,
    });
    const edited = await editTarget(em(), kept.id, { name: ' Handheld  2 ', share: 0.2 });
    expect(edited).include({ name: 'Handheld 2', share: 0.2, framesPerSecond: 30 });
    // As a file to another installation, and back.
    const { id: _id, ...sent } = edited;
    expect(parseTargetFile(JSON.stringify(writeTargetFile(sent))).costs.costs).deep.equal(
      HANDHELD.costs.costs,
    );
  });

  it('keep both of two edits at the same moment', async () => {
    const { id } = await createTarget(em(), { ...HANDHELD, name: 'Twice' });
    await Promise.all([editTarget(em(), id, { share: 0.3 }), editTarget(em(), id, { framesPerSecond: 50 })]);
    expect(await readTarget(em(), id)).include({ share: 0.3, framesPerSecond: 50, name: 'Twice' });
    await removeTarget(em(), id);
  });

  it('that are removed leave projects with this machine', async () => {
    const [, handheld] = await listTargets(em());
    expect(await removeTarget(em(), handheld!.id)).equal(1);
    expect(await readCharacterPricing(em(), stage.characterId)).include({ framesPerSecond: 120 });
    for (const act of [
      () => removeTarget(em(), handheld!.id),
      () => editTarget(em(), handheld!.id, { share: 0.1 }),
      async () => chooseTarget(em(), await readProject(), handheld!.id),
    ])
      expect(
        await act().then(
          () => 'done',
          (error: Error) => error.message,
        ),
      ).contain('no such target profile');
    const tell = (act: Promise<unknown>) =>
      act.then(
        () => 'done',
        (error: Error) => error.message,
      );
    expect(await tell(removeTarget(em(), MACHINE_ID))).contain('cannot be removed');
    expect(await tell(editTarget(em(), MACHINE_ID, { name: 'Mine' }))).contain('keeps its name');
    expect(await tell(createTarget(em(), { ...HANDHELD, name: '  ' }))).contain('name is empty');
  });
});
