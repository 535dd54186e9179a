import { randomUUID } from 'node:crypto';
import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import { type AuthoredRecord, type RecordId, SCENE_DEFAULTS } from '../../core/document/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { Trial } from '../entities/entities.ts';
import { IntakePool } from '../intake/intake-pool.ts';
import { AuthoredService } from '../services/authored-service.ts';
import { CharacterService } from '../services/character-service.ts';
import { ProjectService } from '../services/project-service.ts';
import type { ServiceError } from '../services/service-error.ts';
import { readMotionHash, readSnapshot, readSnapshotDocument, storeSnapshot } from '../tasks/snapshot.ts';
import { createTestDatabase } from '../test-database.ts';
import { TrialService } from './trial-service.ts';

describe('trials of a character', () => {
  let orm: MikroORM;
  let pool: IntakePool;
  let characterId: string;
  let version = 0;

  const service = () => new TrialService(orm.em.fork());
  const write = async (record: AuthoredRecord, baseVersion: number): Promise<void> => {
    const written = await new AuthoredService(orm.em.fork()).write(characterId, [
      { id: record.id, baseVersion, record },
    ]);
    version = written.versions[record.id]!;
  };
  const keep = async (title: string, createdAt = new Date()): Promise<string> => {
    const em = orm.em.fork();
    const { hash, hashes, revision, motionHash } = await storeSnapshot(em, characterId);
    const id = randomUUID();
    em.create(Trial, {
      id,
      character: characterId,
      title,
      isAutomatic: true,
      revision,
      motionHash,
      snapshotHash: hash,
      hashes,
      cases: [],
      caseCount: 4,
      brokenCount: 1,
      measured: Buffer.alloc(100_000, 1),
      machine: Buffer.alloc(10_000, 2),
      seconds: 3,
      createdAt,
    });
    await em.flush();
    return id;
  };

  before(async () => {
    ({ orm } = await createTestDatabase());
    pool = new IntakePool();
    const { id } = await new ProjectService(orm.em.fork()).create('Test');
    const files = [{ name: 'Strip.glb', bytes: createStrip().toGlb() }];
    characterId = (await new CharacterService(orm.em.fork(), pool).bringIn(id, files)).id;
    await write({ ...SCENE_DEFAULTS }, 0);
  });

  after(async () => {
    await pool.close();
    await orm.close();
  });

  it('fit what is stored until something that moves is changed, and again when that is taken back', async () => {
    const id = await keep('first');
    const isFitting = async (): Promise<boolean> =>
      (await service().list(characterId)).find((trial) => trial.id === id)!.fits;
    expect(await isFitting()).equal(true);
    await write({ ...SCENE_DEFAULTS, budgetMilliseconds: 3, trialLimits: { jitter: null } }, version);
    expect(await isFitting()).equal(true);
    await write({ ...SCENE_DEFAULTS, windSpeed: 4 }, version);
    expect(await isFitting()).equal(false);
    await write({ ...SCENE_DEFAULTS }, version);
    expect(await isFitting()).equal(true);
    const em = orm.em.fork();
    expect((await storeSnapshot(em, characterId)).motionHash).equal(await readMotionHash(em, characterId));
  });

  it('are judged by the limits of the project of then, which make no trial old', async () => {
    const id = await keep('limited');
    const projects = new ProjectService(orm.em.fork());
    const [project] = await projects.list();
    const em = orm.em.fork();
    const before = await storeSnapshot(em, characterId);
    await projects.setLimits(project!.id, { jitter: 0.002, cost: null });
    const after = await storeSnapshot(orm.em.fork(), characterId);
    expect(after.motionHash).equal(before.motionHash);
    expect((await service().list(characterId)).find((trial) => trial.id === id)!.fits).equal(true);
    const readLimits = async (hash: string) =>
      (await readSnapshotDocument(em, await readSnapshot(em, hash))).projectLimits;
    expect(await readLimits(before.hash)).equal(undefined);
    expect(await readLimits(after.hash)).deep.equal({ jitter: 0.002, cost: null });
    const { document } = await new CharacterService(orm.em.fork(), pool).readState(characterId);
    expect(document.projectLimits).deep.equal({ jitter: 0.002, cost: null });
    await projects.setLimits(project!.id, {});
    expect((await storeSnapshot(orm.em.fork(), characterId)).hash).equal(before.hash);
  });

  it('are of an exact state, which can be read again, and tell what was edited from one to another', async () => {
    const earlier = await keep('earlier');
    await write({ ...SCENE_DEFAULTS, windSpeed: 7 }, version);
    await write({ type: 'bodySet', id: 'set' as RecordId, name: 'Winter', follows: 'skin' }, 0);
    const later = await keep('later');
    const read = async (id: string) =>
      (await service().readRecords(id)).map(({ record }) =>
        record.type === 'scene' ? record.windSpeed : record.id,
      );
    expect(await read(earlier)).deep.equal([SCENE_DEFAULTS.windSpeed]);
    expect(await read(later)).have.members([7, 'set']);
    const changes = (await service().describeChanges(earlier, later)).join('; ');
    expect(changes).match(/body set/i);
    expect(await service().describeChanges(later, later)).deep.equal([]);
  });

  it('are quickly listed and read when there are a thousand, and go when they are deleted', async () => {
    const sample = await keep('sample');
    await orm.em.getConnection().execute(
      `insert into trial select gen_random_uuid(), character_id, title, is_automatic, revision, motion_hash, snapshot_hash, hashes,
         cases, case_count, broken_count, measured, machine, seconds, created_at - n * interval '1 hour'
       from trial, generate_series(1, 1000) as n where id = ?`,
      [sample],
    );
    const start = performance.now();
    const trials = await service().list(characterId);
    expect(performance.now() - start).below(1000);
    expect(trials.length).above(1000);
    expect(trials.map(({ createdAt }) => createdAt)).deep.equal(
      trials
        .map(({ createdAt }) => createdAt)
        .sort()
        .reverse(),
    );
    const begun = performance.now();
    expect((await service().readRows(sample)).measured.length).equal(100_000);
    expect(performance.now() - begun).below(300);
    const old = trials.slice(20).map(({ id }) => id);
    expect(await service().remove(characterId, [...old, 'no-id'])).equal(old.length);
    expect((await service().list(characterId)).length).equal(20);
  });

  it('are refused in words when they are gone', async () => {
    const error = await service()
      .readRows(randomUUID())
      .catch((reason: ServiceError) => reason);
    expect(error).deep.include({ status: 404 });
    expect((error as ServiceError).message).contain('deleted in another window');
  });
});
