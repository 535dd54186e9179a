import { expect } from 'chai';
import { REFERENCE_COSTS, REFERENCE_PROFILE } from '../../core/cost/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { keepCostProfile, readCostProfile } from '../services/cost-service.ts';
import { orderCalibration, orderFirstCalibration } from './order-calibration.ts';
import { TaskStage } from './test-tasks.ts';

describe('measuring this machine', function () {
  this.timeout(60_000);
  let stage: TaskStage;

  before(async () => {
    stage = await TaskStage.open(createScene({}).document);
  });

  after(() => stage.close());

  const em = () => stage.orm.em.fork();

  it('is ordered once, of no character, and listed beside the tasks of characters', async () => {
    const first = await orderCalibration(em(), stage.queue);
    expect(first).deep.include({
      kind: 'calibration',
      characterId: null,
      characterName: null,
      state: 'queued',
    });
    expect((await orderCalibration(em(), stage.queue)).id).equal(first.id);
    expect((await stage.tasks.list()).map(({ id }) => id)).include(first.id);
    expect(await stage.tasks.list(stage.characterId)).deep.equal([]);
    expect((await stage.tasks.cancel(first.id)).state).equal('cancelled');
  });

  it('is ordered by itself only while nothing is known of the machine', async () => {
    await orderFirstCalibration(em(), stage.queue);
    const [ordered] = await stage.tasks.list();
    expect(ordered).deep.include({ kind: 'calibration', isAutomatic: true, state: 'queued' });
    await stage.tasks.cancel(ordered!.id);

    expect(await readCostProfile(em())).deep.equal(REFERENCE_PROFILE);
    const measured = {
      ...REFERENCE_PROFILE,
      source: 'machine',
      name: 'This machine',
      machine: 'x, 2 cores',
    } as const;
    await keepCostProfile(em(), measured);
    await keepCostProfile(em(), { ...measured, machine: 'y, 4 cores' });
    expect((await readCostProfile(em())).machine).equal('y, 4 cores');
    await orderFirstCalibration(em(), stage.queue);
    expect((await stage.tasks.list()).filter(({ state }) => state === 'queued')).deep.equal([]);
  });

  it('that began by itself begins anew behind what somebody orders; one that somebody ordered goes on', async () => {
    const order = () =>
      stage.orders.orderTrial(stage.characterId, {
        plan: { motions: [{ kind: 'clip', clip: 0 }], shapes: [], winds: [], rates: [] },
        isAutomatic: false,
      });
    const first = await orderCalibration(em(), stage.queue, true);
    const trial = await order();
    const [newest, next] = await stage.tasks.list();
    expect([newest!.kind, newest!.state, next!.id]).deep.equal(['calibration', 'queued', trial.id]);
    expect((await stage.tasks.find(first.id)).state).equal('cancelled');
    await stage.tasks.cancel(newest!.id);

    const asked = await orderCalibration(em(), stage.queue);
    await order();
    expect((await stage.tasks.find(asked.id)).state).equal('queued');
    await stage.tasks.cancel(asked.id);
  });

  it('of another version, which counted other work, does not count', async () => {
    const { edge: _edge, ...costs } = REFERENCE_COSTS;
    await keepCostProfile(em(), {
      ...REFERENCE_PROFILE,
      source: 'machine',
      costs: costs as typeof REFERENCE_COSTS,
    });
    expect((await readCostProfile(em())).source).equal('reference');
    await orderFirstCalibration(em(), stage.queue);
    const [again] = await stage.tasks.list();
    expect(again).deep.include({ kind: 'calibration', isAutomatic: true, state: 'queued' });
    await stage.tasks.cancel(again!.id);
  });
});
