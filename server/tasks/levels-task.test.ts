import { expect } from 'chai';
import { REFERENCE_TARGET } from '../../core/cost/index.ts';
import {
  type AuthoredDocument,
  getScene,
  listGarments,
  PLAIN_LEVEL,
  SCENE_ID,
} from '../../core/document/index.ts';
import { prepareCharacter } from '../../core/prepare/index.ts';
import { GarmentCache } from '../../core/run/index.ts';
import { createCase } from '../../core/trials/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { type ClothExtension, readCharacter } from '../../formats/index.ts';
import { Character } from '../entities/entities.ts';
import { AuthoredService, toChanges } from '../services/authored-service.ts';
import { readCrowd } from '../services/crowd-service.ts';
import { ProjectService } from '../services/project-service.ts';
import { editTarget } from '../services/target-service.ts';
import { measureBand } from '../work/jobs/measure-band.ts';
import type { LevelsRequest, MeasuredBand } from './kinds/levels-kind.ts';
import { refusalOf, TaskStage } from './test-tasks.ts';

/** The sheet with two levels: coarser, and off. */
function createLevelled(): AuthoredDocument {
  const { document } = createScene({ hasBody: true });
  const [garment] = listGarments(document);
  const levels = [
    { ...PLAIN_LEVEL, pixels: 400, edgeLength: 0.08 },
    { ...PLAIN_LEVEL, pixels: 100, blend: 0 },
  ];
  document.records.set(garment!.id, { ...garment!, levels });
  return document;
}

describe('levels of detail, as a task', function () {
  this.timeout(120_000);
  const document = createLevelled();
  let stage: TaskStage;
  let projectId: string;

  before(async () => {
    stage = await TaskStage.open(document);
    const character = await stage.orm.em.fork().findOneOrFail(Character, { id: stage.characterId });
    projectId = character.project.id;
  });

  afterEach(() => stage.stopWorkers());

  after(() => stage.close());

  const order = () => stage.orders.orderLevels(stage.characterId, { clips: [0] });
  const readNow = () => readCrowd(stage.orm.em.fork(), projectId);

  it('measures every band as one thread alone does, whoever does it, and the crowd knows', async () => {
    expect((await readNow()).unmeasured).deep.equal([
      { id: stage.characterId, name: 'sheet', hasLevels: true },
    ]);
    const { id } = await order();
    await stage.startWorker(2);
    const task = await stage.wait(id);
    expect(task).include({ kind: 'levels', state: 'done', error: null, parts: 3, partsDone: 3 });
    expect(task.done).equal(task.total);
    const { request, results } = await stage.tasks.readFound<LevelsRequest, MeasuredBand>(id);
    expect(request.bands.map(({ from }) => from)).deep.equal([400, 100, 0]);
    const { character } = prepareCharacter((await readCharacter(stage.files)).character, document);
    const known = { key: 'here', character, document, cache: new GarmentCache() };
    const cases = [createCase({ kind: 'clip', clip: 0 })];
    const { pricing } = request;
    for (const { band, ...figures } of results) {
      const here = measureBand(known, { cases, band, pricing }, () => {});
      expect(figures).deep.equal(JSON.parse(JSON.stringify(here)));
    }
    const costs = results.map(({ cost }) => cost.mean);
    expect(costs[1]).below(costs[0]!);
    expect(costs[2]).below(0.1 * costs[0]!);
    const { members, unmeasured, settings } = await readNow();
    expect(unmeasured).deep.equal([]);
    expect(settings.groups).deep.equal([]);
    expect(members[0]).deep.include({ id: stage.characterId, isOld: false });
    expect(members[0]!.bands.map(({ cost }) => cost)).deep.equal(costs);
    expect(members[0]!.bands[0]!.switchCost).equal(null);
    expect(members[0]!.bands[1]!.switchCost).above(costs[1]!);
  });

  it('goes into a shipment with what it costs and how many fit, as long as it is measured as it is', async () => {
    const { bytes, validation } = await stage.characters.ship(stage.characterId);
    const shipped = await readCharacter([{ name: 'shipped.glb', bytes }]);
    const { crowd } = shipped.source!.json.extensions!.COBWEB_cloth as ClothExtension;
    const [member] = (await readNow()).members;
    expect(crowd).include({ cores: 1, budgetMilliseconds: 2, screenHeight: 1080, height: member!.height });
    expect(crowd!.bands.map(({ costMilliseconds }) => costMilliseconds)).deep.equal(
      member!.bands.map(({ cost }) => cost),
    );
    for (const { costMilliseconds, fits } of crowd!.bands)
      if (costMilliseconds > 0) expect(fits).equal(Math.floor(2 / costMilliseconds));
    expect(validation.messages.filter(({ code }) => code !== 'ACCESSOR_VECTOR3_NON_UNIT')).deep.equal([]);
  });

  it('is old when levels, what moves, or the target is another; a limit does not make it old', async () => {
    const isOld = async () => (await readNow()).members[0]!.isOld;
    const write = async (change: (to: AuthoredDocument) => void) => {
      const service = new AuthoredService(stage.orm.em.fork());
      const stored = await service.list(stage.characterId);
      const records = new Map(stored.map(({ record }) => [record.id, record]));
      const next = { records, arrays: new Map() };
      change(next);
      const changes = toChanges(next).map((each) => ({
        ...each,
        baseVersion: stored.find(({ record }) => record.id === each.record?.id)?.version ?? 0,
      }));
      await service.write(stage.characterId, changes);
    };
    const readShipped = async () => {
      const { bytes } = await stage.characters.ship(stage.characterId);
      const { source } = await readCharacter([{ name: 'shipped.glb', bytes }]);
      return (source!.json.extensions!.COBWEB_cloth as ClothExtension).crowd;
    };
    const setLevel = (pixels: number) => (to: AuthoredDocument) => {
      const [garment] = listGarments(to);
      const [first, ...others] = garment!.levels;
      to.records.set(garment!.id, { ...garment!, levels: [{ ...first!, pixels }, ...others] });
    };
    await write((to) => to.records.set(SCENE_ID, { ...getScene(to), trialLimits: { jitter: 0.1 } }));
    expect(await isOld()).equal(false);
    await write(setLevel(401));
    expect(await isOld()).equal(true);
    await write(setLevel(400));
    expect(await isOld()).equal(false);
    await write((to) => to.records.set(SCENE_ID, { ...getScene(to), windSpeed: 3 }));
    expect(await isOld()).equal(true);
    await write((to) => to.records.set(SCENE_ID, { ...getScene(to), windSpeed: 0 }));
    expect(await isOld()).equal(false);
    expect(await readShipped()).not.equal(undefined);
    await editTarget(stage.orm.em.fork(), REFERENCE_TARGET.id, { framesPerSecond: 30, cores: 4 });
    expect(await isOld()).equal(true);
    expect((await readNow()).target.cores).equal(4);
    // What it cost elsewhere is not shipped.
    expect(await readShipped()).equal(undefined);
  });

  it('keeps what is planned, and says so of a project that is gone', async () => {
    const camera = { fieldOfView: 1, screenHeight: 720 };
    const groups = [{ memberId: stage.characterId, count: 3, near: 1, far: 9 }];
    await new ProjectService(stage.orm.em.fork()).setCrowd(projectId, { camera, groups });
    expect((await readNow()).settings).deep.equal({ camera, groups });
    const gone = readCrowd(stage.orm.em.fork(), '00000000-0000-4000-8000-000000000000');
    expect((await refusalOf(gone)).message).contain('no such project');
  });

  it('is refused for clips that are not there, and without levels', async () => {
    const wrong = stage.orders.orderLevels(stage.characterId, { clips: [9] });
    expect((await refusalOf(wrong)).message).contain('clip');
    const plain = await TaskStage.open(createScene({}).document);
    const refused = plain.orders.orderLevels(plain.characterId, { clips: [0] });
    expect((await refusalOf(refused)).message).contain('No garment has levels');
    await plain.close();
  });
});
