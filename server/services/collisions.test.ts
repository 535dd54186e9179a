import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import {
  type AuthoredDocument,
  type AuthoredRecord,
  createDocument,
  createGarment,
  type RecordId,
} from '../../core/document/index.ts';
import { readCharacter, type SourceFile } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { Character } from '../entities/entities.ts';
import { IntakePool } from '../intake/intake-pool.ts';
import { createTestDatabase } from '../test-database.ts';
import { AuthoredService, toChanges } from './authored-service.ts';
import { BlobService } from './blob-service.ts';
import { CharacterService } from './character-service.ts';
import { ProjectService } from './project-service.ts';
import { hashSource, type SeenState } from './seen-state.ts';
import type { ServiceError } from './service-error.ts';

const set = (name: string): AuthoredRecord => ({
  type: 'bodySet',
  id: 'set' as RecordId,
  name,
  follows: 'skin',
});

/** Each request has an entity manager of its own, as on the server. */
describe('requests at the same moment', () => {
  let orm: MikroORM;
  let pool: IntakePool;
  let projectId: string;
  let id: string;

  const characters = () => new CharacterService(orm.em.fork(), pool);
  const write = (...changes: Parameters<AuthoredService['write']>[1]) =>
    new AuthoredService(orm.em.fork()).write(id, changes);
  const clip = (name: string) => {
    const builder = createStrip();
    builder.json.animations![0]!.name = name;
    return [{ name: `${name}.glb`, bytes: builder.toGlb() }];
  };
  const see = async (): Promise<SeenState> => ({
    source: hashSource(await characters().find(id)),
    versions: Object.fromEntries((await new AuthoredService(orm.em.fork()).readState(id)).versions),
  });
  const failureOf = (action: Promise<unknown>): Promise<ServiceError> =>
    action.then(
      () => {
        throw new Error('it went through');
      },
      (error: ServiceError) => error,
    );

  before(async () => {
    ({ orm } = await createTestDatabase());
    pool = new IntakePool();
    projectId = (await new ProjectService(orm.em.fork()).create('Test')).id;
  });

  beforeEach(async () => {
    ({ id } = await characters().bringIn(projectId, [{ name: 'Strip.glb', bytes: createStrip().toGlb() }]));
  });

  after(async () => {
    await pool.close();
    await orm.close();
  });

  it('ship while saves arrive, and name the revision that is in the file', async () => {
    let version = (await write({ id: 'set', baseVersion: 0, record: set('0') })).versions.set!;
    let isShipping = true;
    const saves = (async () => {
      while (isShipping) {
        const written = await write({ id: 'set', baseVersion: version, record: set(String(version)) });
        version = written.versions.set!;
      }
    })();
    const shipments = await Promise.all(Array.from({ length: 6 }, () => characters().ship(id)));
    isShipping = false;
    await saves;
    for (const { hash, revision } of shipments) {
      const bytes = (await new BlobService(orm.em.fork()).get(hash))!;
      const { source } = await readCharacter([{ name: 'shipped.glb', bytes }]);
      expect(source!.json.extensions!.COBWEB_cloth).deep.include({ revision });
    }
    const { revision } = await characters().find(id);
    expect(Math.max(...shipments.map((shipment) => shipment.revision))).at.most(revision);
  });

  it('ship nothing when another window has saved what this one has not seen', async () => {
    await write({ id: 'set', baseVersion: 0, record: set('mine') });
    const seen = await see();
    const first = await characters().ship(id, seen);
    expect(first.revision).equal(2);
    await write({ id: 'other', baseVersion: 0, record: { ...set('theirs'), id: 'other' as RecordId } });
    const added = await failureOf(characters().ship(id, seen));
    expect(added.status).equal(409);
    expect(added.message).contain('Another window').and.contain('Reload the page');
    const now = await see();
    expect((await characters().ship(id, now)).revision).equal(3);
    await write({ id: 'set', baseVersion: 1, record: set('changed') });
    expect((await failureOf(characters().ship(id, now))).status).equal(409);
    await write({ id: 'set', baseVersion: 2, record: null });
    expect((await failureOf(characters().ship(id, now))).status).equal(409);
    // Of what was deleted before it was opened a page knows nothing.
    const { set: _, ...live } = (await see()).versions;
    expect((await characters().ship(id, { ...now, versions: live })).revision).equal(5);
    await characters().addClips(id, clip('nod'));
    expect((await failureOf(characters().ship(id, { ...now, versions: live }))).status).equal(409);
  });

  it('do not count a file as shipped when a save came while it was written', async () => {
    const shipping = characters().ship(id);
    await write({ id: 'set', baseVersion: 0, record: set('late') });
    await shipping;
    const summary = (await characters().summarise([projectId])).find((one) => one.id === id)!;
    const { revision, shippedRevision } = await orm.em.fork().findOneOrFail(Character, { id });
    expect(summary.isShippedAsIs).equal(shippedRevision === revision);
    await characters().ship(id);
    await write({ id: 'set', baseVersion: 1, record: set('later') });
    const after = (await characters().summarise([projectId])).find((one) => one.id === id)!;
    expect([after.isShippedAsIs, after.shippedAt !== null]).deep.equal([false, true]);
  });

  it('rename ten times, and one of the names stays', async () => {
    const names = Array.from({ length: 10 }, (_, i) => `name ${i}`);
    await Promise.all(names.map((name) => characters().rename(id, name)));
    expect(names).include((await characters().find(id)).name);
    const projects = () => new ProjectService(orm.em.fork());
    await Promise.all(names.map((name) => projects().rename(projectId, name)));
    expect(names).include((await projects().find(projectId)).name);
  });

  it('rename and save together, and both stay', async () => {
    await Promise.all([
      write({ id: 'set', baseVersion: 0, record: set('kept') }),
      characters().rename(id, 'Renamed'),
      characters().ship(id),
    ]);
    expect((await characters().find(id)).name).equal('Renamed');
    expect((await new AuthoredService(orm.em.fork()).list(id)).map(({ record }) => record)).deep.equal([
      set('kept'),
    ]);
  });

  it('add three clips, and all are there', async () => {
    await Promise.all(['nod', 'wave', 'bow'].map((name) => characters().addClips(id, clip(name))));
    const { report, files } = await characters().find(id);
    expect(files.map(({ name }) => name)).members(['Strip.glb', 'nod.glb', 'wave.glb', 'bow.glb']);
    expect(report.clips.map(({ name }) => name)).members(['bend', 'nod', 'wave', 'bow']);
  });

  it('replace the files and add clips, and no clip is lost', async () => {
    const renamed = createStrip();
    renamed.json.meshes![0]!.name = 'Ribbon';
    const version = [{ name: 'Strip v2.glb', bytes: renamed.toGlb() }];
    const outcomes = await Promise.allSettled([
      characters().replaceSource(id, version, {}),
      characters().addClips(id, clip('nod')),
    ]);
    const failures = outcomes.flatMap((outcome) =>
      outcome.status === 'rejected' ? [(outcome.reason as ServiceError).status] : [],
    );
    expect(failures.every((status) => status === 409)).equal(true);
    const names = (await characters().find(id)).files.map(({ name }) => name);
    expect(names).include('nod.glb');
    expect(names.includes('Strip v2.glb')).equal(failures.length === 0);
  });

  it('carry nothing over what was saved while another version was compared', async () => {
    const { character } = await readCharacter([{ name: 'Strip.glb', bytes: createStrip().toGlb() }]);
    let ids = 0;
    const { garment, channel, fabric, bodySet, maxDistances } = createGarment(
      character,
      createDocument(),
      0,
      () => `id-${++ids}` as RecordId,
    );
    const authored: AuthoredDocument = createDocument();
    authored.records.clear();
    for (const record of [garment, channel, fabric, bodySet!]) authored.records.set(record.id, record);
    authored.arrays.set(channel.id, maxDistances);
    await write(...toChanges(authored));
    // The section goes, so the garment's record has to change.
    const renamed = createStrip();
    renamed.json.meshes![0]!.name = 'Ribbon';
    const late = { ...garment, name: 'Saved meanwhile' };
    const interrupted = {
      read: (files: SourceFile[]) => pool.read(files),
      async compare(...given: Parameters<IntakePool['compare']>) {
        const outcome = await pool.compare(...given);
        await write({ id: garment.id, baseVersion: 1, record: late });
        return outcome;
      },
    } as unknown as IntakePool;
    const refused = await failureOf(
      new CharacterService(orm.em.fork(), interrupted).replaceSource(
        id,
        [{ name: 'Strip v2.glb', bytes: renamed.toGlb() }],
        { Strip: 'Ribbon' },
      ),
    );
    expect(refused.status).equal(409);
    expect((await characters().find(id)).files.map(({ name }) => name)).deep.equal(['Strip.glb']);
    const { document } = await new AuthoredService(orm.em.fork()).readState(id);
    expect(document.records.get(garment.id)).deep.equal(late);
  });
});
