import { expect } from 'chai';
import { listGarments, type RecordId, SCENE_DEFAULTS } from '../../core/document/index.ts';
import { prepareCharacter } from '../../core/prepare/index.ts';
import type { Character } from '../../core/rig/index.ts';
import { measureReachNeed, setUpRun, shapeReach } from '../../core/run/index.ts';
import {
  BodySuggestion,
  listFoundSets,
  type SuggestionRequest,
  type SuggestionStep,
  type TriedSet,
} from '../../core/suggest/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { readCharacter } from '../../formats/index.ts';
import { finish } from '../work/jobs/finish.ts';
import { startWorkerProcess } from './start-worker-process.ts';
import { refusalOf, TaskStage } from './test-tasks.ts';

describe('suggestions as tasks', function () {
  this.timeout(120_000);
  const { document } = createScene({});
  // A breeze moves the sheet, with nothing to stand for the ball.
  document.records.set(SCENE_DEFAULTS.id, { ...SCENE_DEFAULTS, windSpeed: 1 });
  const [garment] = listGarments(document);
  let stage: TaskStage;
  let character: Character;

  const wanted: SuggestionRequest = {
    bodySetId: garment!.bodySetId,
    clips: [0],
    goal: { bodies: 2, penetration: 0, showThrough: 0 },
    kinds: ['taperedCapsule'],
    mirrors: true,
    margin: 0.004,
    keptIds: [],
  };
  const orderBodies = () => stage.orders.orderBodies(stage.characterId, wanted);
  const readSets = async (id: string) => {
    const { results } = await stage.tasks.readFound<SuggestionRequest, SuggestionStep>(id);
    return listFoundSets(results, 1).map(({ bodies, penetration, showThrough }) => ({
      bodies: JSON.parse(JSON.stringify(bodies)) as unknown,
      penetration,
      showThrough,
    }));
  };

  before(async () => {
    stage = await TaskStage.open(document);
    character = prepareCharacter((await readCharacter(stage.files)).character, document).character;
  });

  afterEach(() => stage.stopWorkers());

  after(() => stage.close());

  /** The same, one after the other, here. */
  function suggestHere(): readonly TriedSet[] {
    const suggestion = new BodySuggestion(document, character, wanted);
    const chooser = suggestion.createChooser(finish(suggestion.fit({ index: 0, count: 1 })));
    const measure = () => [finish(suggestion.measure(chooser.bodies, 0))];
    while (chooser.take(measure()));
    return chooser.tried;
  }

  it('of bodies try the sets that one machine alone would, though a worker is killed on the way', async () => {
    const ordered = await orderBodies();
    expect(ordered).deep.include({ kind: 'bodies', state: 'queued', isAutomatic: false });
    expect(ordered.title).match(/up to 2 bodies, 1 clip$/);
    const killed = startWorkerProcess(stage.url, 1, () => {});
    await stage.wait(ordered.id, ({ partsDone }) => partsDone >= 5);
    process.kill(killed.pid!, 'SIGKILL');
    await killed.stop();
    await stage.startWorker(2);
    const done = await stage.wait(ordered.id);
    expect(done).deep.include({ state: 'done', error: null });
    expect(done.partsDone).equal(done.parts);
    const here = suggestHere();
    expect(here.length).above(1);
    expect(await readSets(ordered.id)).deep.equal(
      here.map(({ bodies, demands }) => ({
        bodies: JSON.parse(JSON.stringify(bodies)) as unknown,
        penetration: demands[0]!.penetration,
        showThrough: demands[0]!.showThrough,
      })),
    );
    // The ball goes through the sheet when nothing stands for it, and hardly when something does.
    const [none, one] = await readSets(ordered.id);
    expect(none!.penetration).above(0.04);
    expect(one!.penetration).below(0.5 * none!.penetration);
  });

  it('of bodies keep the sets that were tried when they are cancelled', async () => {
    const { id } = await orderBodies();
    await stage.startWorker();
    await stage.wait(id, ({ partsDone }) => partsDone >= 6);
    await stage.tasks.cancel(id);
    const sets = await readSets(id);
    expect(sets.length).within(1, 2);
    expect(sets[0]!.bodies).deep.equal([]);
  });

  it('of a map are, to the last bit, what one machine alone makes', async () => {
    const setup = setUpRun(document, character);
    const options = { garmentId: garment!.id, seam: null };
    const need = finish(measureReachNeed(setup, options, 0));
    const alone = shapeReach(setup, options, [need]);
    const ordered = await stage.orders.orderReach(stage.characterId, { ...options, clips: [0] });
    expect(ordered).deep.include({ kind: 'reach', parts: 2 });
    await stage.startWorker();
    expect(await stage.wait(ordered.id)).deep.include({ state: 'done', partsDone: 2 });
    const { results } = await stage.tasks.readFound<object, { values: number[] }>(ordered.id);
    expect(results.length).equal(1);
    expect(Float32Array.from(results[0]!.values)).deep.equal(alone);
    expect(Math.max(...alone)).above(0.01);
  });

  it('fail with the reason of the core', async () => {
    const seam = { count: 5, points: [1] };
    const { id } = await stage.orders.orderReach(stage.characterId, {
      garmentId: garment!.id,
      seam,
      clips: [0],
    });
    await stage.startWorker();
    expect(await stage.wait(id)).deep.include({
      state: 'failed',
      error: 'The seam was picked on another mesh. Pick it anew.',
    });
  });

  it('are refused for what is not there', async () => {
    const gone = { ...wanted, bodySetId: 'gone' as RecordId };
    expect((await refusalOf(stage.orders.orderBodies(stage.characterId, gone))).message).contain(
      'body set is not there',
    );
    const other = { ...wanted, clips: [4] };
    expect((await refusalOf(stage.orders.orderBodies(stage.characterId, other))).message).contain(
      'no clip 5',
    );
    const reach = { garmentId: 'gone', seam: null, clips: [0] };
    expect((await refusalOf(stage.orders.orderReach(stage.characterId, reach))).message).contain(
      'garment is not there',
    );
  });
});
