import { expect } from 'chai';
import { type Advice, advise, type BudgetChange, readAdvice } from '../../core/advice/index.ts';
import { REFERENCE_PRICING } from '../../core/cost/index.ts';
import { listRecords, type RecordId } from '../../core/document/index.ts';
import { prepareCharacter } from '../../core/prepare/index.ts';
import { GarmentCache } from '../../core/run/index.ts';
import { createCase, resolveAllLimits } from '../../core/trials/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { readCharacter } from '../../formats/index.ts';
import { tryChanges } from '../work/jobs/try-changes.ts';
import type { AdviceRequest, AdviceResult } from './kinds/advice-kind.ts';
import { refusalOf, TaskStage } from './test-tasks.ts';

const BUDGET = 0.25;

describe('what to change first, as a task', function () {
  this.timeout(120_000);
  const { document } = createScene({ hasBody: true });
  // A body that the sheet never meets, and a hull where a ball would do.
  const [ball] = listRecords(document, 'body');
  const far = { ...ball!, id: 'far' as RecordId, name: 'far' };
  far.shape = { kind: 'sphere', a: [0, 0, -5], b: [0, 0, -5], radiusA: 0.1, radiusB: 0.1 };
  document.records.set(far.id, far);
  let stage: TaskStage;

  before(async () => {
    stage = await TaskStage.open(document);
  });

  afterEach(() => stage.stopWorkers());

  after(() => stage.close());

  const order = () => stage.orders.orderAdvice(stage.characterId, { clips: [0], budget: BUDGET });

  async function adviseHere(): Promise<Advice> {
    const { character } = prepareCharacter((await readCharacter(stage.files)).character, document);
    const known = { key: 'here', character, document, cache: new GarmentCache() };
    const cases = [createCase({ kind: 'clip', clip: 0 })];
    const tryOut = async (changes: readonly BudgetChange[]) =>
      tryChanges(known, { cases, changes, pricing: REFERENCE_PRICING }, () => {});
    return advise(tryOut, resolveAllLimits(document), BUDGET);
  }

  it('finds what one thread alone finds, change by change, whoever does it', async () => {
    const { id } = await order();
    await stage.startWorker(2);
    const task = await stage.wait(id);
    expect(task).include({ kind: 'advice', state: 'done', error: null });
    const { request, results } = await stage.tasks.readFound<AdviceRequest, AdviceResult>(id);
    expect(task.parts).equal(results.length);
    const found = readAdvice(results, new Map(request.limits), request.budget);
    const here = await adviseHere();
    expect(found).deep.equal(JSON.parse(JSON.stringify(here)));
    const kinds = found.singles.map(({ changes }) => changes[0]!.kind);
    expect(kinds).include('dropBodies').and.include('substeps');
    const idle = found.singles.find(
      ({ changes: [change] }) => change!.kind === 'dropBodies' && change.bodyIds.includes(far.id),
    );
    expect(idle!.harm).equal(0);
    expect(idle!.saves).above(0);
    expect(found.best!.breaks).deep.equal([]);
    expect(found.best!.figures.cost).below(found.before!.cost);
  });

  it('ends when it is told to, and is refused where there is nothing to advise on', async () => {
    const { id } = await order();
    expect((await stage.tasks.cancel(id)).state).equal('cancelled');
    const wrong = stage.orders.orderAdvice(stage.characterId, { clips: [9], budget: BUDGET });
    expect((await refusalOf(wrong)).message).contain('clip');
  });
});
