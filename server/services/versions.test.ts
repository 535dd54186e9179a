import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import { FABRIC_DEFAULTS } from '../../core/cloth/index.ts';
import {
  type AuthoredRecord,
  GARMENT_DEFAULTS,
  type RecordId,
  SCENE_DEFAULTS,
} from '../../core/document/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { AuthoredRow, Blob, Character, CharacterVersion } from '../entities/entities.ts';
import { IntakePool } from '../intake/intake-pool.ts';
import { createTestDatabase } from '../test-database.ts';
import { AuthoredService } from './authored-service.ts';
import { BlobService } from './blob-service.ts';
import { CharacterService } from './character-service.ts';
import { ProjectService } from './project-service.ts';
import { describePurge, PurgeService } from './purge-service.ts';
import type { ArrayEdit } from './record-change.ts';
import { VersionService } from './version-service.ts';

const COUNT = 3000;
const id = (text: string): RecordId => text as RecordId;
const RECORDS: AuthoredRecord[] = [
  { type: 'fabric', id: id('f'), name: 'Cloth', settings: { ...FABRIC_DEFAULTS } },
  { type: 'bodySet', id: id('b'), name: 'Main', follows: 'skin' },
  {
    type: 'garment',
    id: id('g'),
    name: 'Strip',
    order: 0,
    sectionIndex: 0,
    sectionName: 'Strip',
    fabricId: id('f'),
    bodySetId: id('b'),
    ...GARMENT_DEFAULTS,
  },
  { ...SCENE_DEFAULTS },
];
const map: AuthoredRecord = {
  type: 'channel',
  id: id('m'),
  garmentId: id('g'),
  kind: 'maxDistance',
  isInUse: true,
  name: 'first',
  pointCount: COUNT,
};
const whole = (value: number): ArrayEdit => ({ indices: null, values: new Float32Array(COUNT).fill(value) });
const stroke = (from: number, count: number, value: number): ArrayEdit => ({
  indices: Uint32Array.from({ length: count }, (_, k) => from + k),
  values: new Float32Array(count).fill(value),
});

describe('versions, strokes and what nobody needs any more', function () {
  this.timeout(120_000);
  let orm: MikroORM;
  let pool: IntakePool;
  let character: string;
  const versionOf = new Map<string, number>();

  const fork = () => orm.em.fork();
  const save = async (record: AuthoredRecord, array?: ArrayEdit, window = 'w1'): Promise<void> => {
    const change = {
      id: record.id,
      baseVersion: versionOf.get(record.id) ?? 0,
      record,
      ...(array && { array }),
    };
    const { versions } = await new AuthoredService(fork()).write(character, [change], window);
    versionOf.set(record.id, versions[record.id]!);
  };
  const readMap = async () =>
    (await new AuthoredService(fork()).readDocument(character)).arrays.get(id('m'))!;
  const readRow = () => fork().findOneOrFail(AuthoredRow, { key: `${character}/m` });

  before(async () => {
    ({ orm } = await createTestDatabase());
    pool = new IntakePool();
  });

  beforeEach(async () => {
    const project = await new ProjectService(fork()).create('Test');
    const files = [{ name: 'Strip.glb', bytes: createStrip().toGlb() }];
    character = (await new CharacterService(fork(), pool).bringIn(project.id, files)).id;
    versionOf.clear();
    for (const record of RECORDS) await save(record);
    await save(map, whole(0));
  });

  after(async () => {
    await pool.close();
    await orm.close();
  });

  describe('strokes', () => {
    it('are kept beside the map and read with it, by whoever reads', async () => {
      const { arrayHash } = await readRow();
      await save(map, stroke(10, 5, 0.5));
      await save(map, stroke(12, 5, 0.7));
      const row = await readRow();
      expect(row.arrayHash).equal(arrayHash);
      expect(row.arrayDelta!.length).equal(8 * 7);
      expect([...(await readMap())].slice(9, 18)).deep.equal(
        [0, 0.5, 0.5, ...new Array(5).fill(0.7), 0].map(Math.fround),
      );
      // The page is given the hash of the whole.
      const [stored] = (await new AuthoredService(fork()).list(character)).filter(
        ({ record }) => record.id === 'm',
      );
      const bytes = (await new BlobService(fork()).get(stored!.arrayHash!))!;
      expect(new Float32Array(new Uint8Array(bytes).buffer)).deep.equal(await readMap());
      expect((await readRow()).arrayDelta).equal(null);
    });

    it('are worked into the map when they are many', async () => {
      await save(map, stroke(0, 100, 0.1));
      expect((await readRow()).arrayDelta).not.equal(null);
      await save(map, stroke(100, 900, 0.2));
      expect((await readRow()).arrayDelta).equal(null);
      expect((await readMap()).reduce((sum, value) => sum + value, 0)).closeTo(190, 1e-3);
    });

    it("sent twice because the answer was lost are no conflict; another window's are, with all values", async () => {
      const first = { id: 'm', baseVersion: 1, record: map, array: stroke(0, 3, 0.3) };
      const write = (...changes: (typeof first)[]) => new AuthoredService(fork()).write(character, changes);
      expect((await write(first)).versions).deep.equal({ m: 2 });
      expect((await write(first)).versions).deep.equal({ m: 3 });
      const error = await write({ ...first, array: stroke(0, 3, 0.9) }).then(
        () => null,
        (reason: { status: number; details: { conflicts: { array: string }[] } }) => reason,
      );
      expect(error!.status).equal(409);
      const bytes = Buffer.from(error!.details.conflicts[0]!.array, 'base64');
      expect(new Float32Array(new Uint8Array(bytes).buffer)).deep.equal(await readMap());
    });

    it('beyond the map are refused', async () => {
      for (const array of [
        stroke(COUNT - 1, 2, 0.1),
        { indices: Uint32Array.of(4, 4), values: new Float32Array(2) },
      ]) {
        const change = { id: 'm', baseVersion: 1, record: map, array };
        const error = await new AuthoredService(fork()).write(character, [change]).catch((reason) => reason);
        expect(error.status).equal(422);
        expect(error.message).contain('3000 are stored');
      }
    });
  });

  describe('versions', () => {
    it('are kept by name, tell what changed in words and in which windows, and are read whole', async () => {
      await new VersionService(fork()).keep(character, '  Before  the hem ');
      await save(
        { ...RECORDS[0], settings: { ...FABRIC_DEFAULTS, density: 0.9 } } as AuthoredRecord,
        undefined,
        'w2',
      );
      await save({ ...RECORDS[3], windSpeed: 3 } as AuthoredRecord);
      await save(map, stroke(0, 4, 0.2));
      const { versions, now } = await new VersionService(fork()).list(character);
      // The other was kept by itself with the second save.
      expect(versions.map(({ name }) => name)).deep.equal(['Before the hem', null]);
      expect(versions[0]!.windows).deep.equal(['w1']);
      expect(versions[0]!.changes).include('Garment "Strip" added');
      expect(now.changes).deep.equal([
        'Map Max distance "first": values',
        'Fabric "Cloth": density',
        'Scene: wind',
      ]);
      expect([...now.windows].sort()).deep.equal(['w1', 'w2']);
      const records = await new VersionService(fork()).read(character, versions[0]!.id);
      expect(records.find(({ record }) => record.id === 'f')!.record).deep.equal(RECORDS[0]);
    });

    it('are kept by themselves before a save, when the newest is ten minutes old and something changed since', async () => {
      const count = () => fork().count(CharacterVersion, { character });
      // The first save found nothing to keep; the second kept the first.
      expect(await count()).equal(1);
      await save(map, stroke(0, 4, 0.2));
      expect(await count()).equal(1);
      const old = new Date(Date.now() - 11 * 60_000);
      await fork().nativeUpdate(CharacterVersion, { character }, { createdAt: old });
      await save(map, stroke(0, 4, 0.4));
      expect(await count()).equal(2);
      const { versions } = await new VersionService(fork()).list(character);
      // As it was before the save.
      const records = await new VersionService(fork()).read(character, versions[0]!.id);
      const bytes = await new BlobService(fork()).get(
        records.find(({ record }) => record.id === 'm')!.arrayHash!,
      );
      expect(new Float32Array(new Uint8Array(bytes!).buffer)[3]).equal(Math.fround(0.2));
      expect(await new VersionService(fork()).keep(character, 'x')).not.equal(null);
      expect(await new VersionService(fork()).keep(character, null)).equal(null);
    });

    it('are renamed, removed, and those of others are not there', async () => {
      const { id: version } = (await new VersionService(fork()).keep(character, 'one'))!;
      await new VersionService(fork()).rename(character, version, 'two');
      expect((await new VersionService(fork()).list(character)).versions[0]!.name).equal('two');
      const failure = await new VersionService(fork())
        .read(crypto.randomUUID(), version)
        .catch((reason) => reason);
      expect(failure.status).equal(404);
      await new VersionService(fork()).remove(character, version);
      expect((await new VersionService(fork()).list(character)).versions.map(({ name }) => name)).not.include(
        'two',
      );
    });
  });

  describe('what nothing refers to', () => {
    const purge = (minutes: number) => new PurgeService(fork()).purge({ blobMinutes: minutes });
    const age = () =>
      fork().getConnection().execute(`update blob set created_at = now() - interval '1 hour'`);

    it('goes after a while, and nothing else: files, pictures, maps, versions and shipments stay', async () => {
      await new VersionService(fork()).keep(character, 'kept');
      const kept = (await readRow()).arrayHash!;
      await save(map, whole(0.5));
      const { arrayHash } = await readRow();
      const lost = await new BlobService(fork()).put(Buffer.from('nothing refers to this'));
      await age();
      const { project } = await new CharacterService(fork(), pool).find(character);
      const plain = [{ name: 'Other.glb', bytes: createStrip().toGlb() }];
      const other = await new CharacterService(fork(), pool).bringIn(project.id, plain);
      const shipped = await new CharacterService(fork(), pool).ship(other.id);
      await purge(10);
      expect(await new BlobService(fork()).has(lost)).equal(true);
      const told = describePurge(await purge(0));
      expect(told).match(/^freed \d+ unused (array or file|arrays and files) \(\d+\.\d MB\)$/);
      const blobs = new BlobService(fork());
      expect(await blobs.has(lost)).equal(false);
      const { files, packedHash, thumbnailHash } = await fork().findOneOrFail(Character, { id: character });
      for (const hash of [kept, arrayHash!, shipped.hash, packedHash, thumbnailHash, files[0]!.hash])
        expect(await blobs.has(hash)).equal(true);
      expect((await readMap())[0]).equal(0.5);
      expect(describePurge(await purge(0))).equal(null);
    });

    it('is saved from it when it is used again meanwhile', async () => {
      const bytes = Buffer.from('used, not used, used again');
      const hash = await new BlobService(fork()).put(bytes);
      await age();
      await purge(10);
      expect((await fork().findOneOrFail(Blob, { hash })).unusedSince).not.equal(null);
      await new BlobService(fork()).put(bytes);
      expect((await fork().findOneOrFail(Blob, { hash })).unusedSince).equal(null);
      await purge(10);
    });

    it('is deleted records after a day, and deleted characters after a month', async () => {
      await new AuthoredService(fork()).write(character, [{ id: 'm', baseVersion: 1, record: null }]);
      expect((await purge(0)).records).equal(0);
      await fork().nativeUpdate(
        AuthoredRow,
        { recordId: 'm' },
        { editedAt: new Date(Date.now() - 25 * 3600_000) },
      );
      expect((await purge(0)).records).equal(1);
      await new CharacterService(fork(), pool).setDeleted(character, true);
      expect((await purge(0)).characters).equal(0);
      const longAgo = new Date(Date.now() - 31 * 24 * 3600_000);
      await fork().nativeUpdate(Character, { id: character }, { deletedAt: longAgo });
      expect((await purge(0)).characters).equal(1);
      expect(await fork().count(AuthoredRow, { character })).equal(0);
    });

    it('does not grow by more than 20 MB in an hour of painting a map of 20,000 vertices', async function () {
      this.timeout(180_000);
      const large = { ...map, id: id('l'), pointCount: 20_000 } as AuthoredRecord;
      await save(large, { indices: null, values: new Float32Array(20_000) });
      const size = async (): Promise<number> => {
        const [row] = await fork().getConnection().execute(`select sum(length(bytes)) as size from blob`);
        return Number(row.size);
      };
      const before = await size();
      let most = 0;
      // A save a second over dabs of 400 vertices, and a purge a minute; three minutes of it show what stays.
      for (let second = 0; second < 180; second++) {
        await save(large, stroke((second * 97) % 19_600, 400, (second % 50) / 100));
        if (second % 60 !== 59) continue;
        most = Math.max(most, (await size()) - before);
        await age();
        await purge(0);
      }
      // Three minutes are kept before anything goes: at most three times what one minute makes.
      expect(3 * most).below(20e6);
      expect((await size()) - before).below(2e6);
    });
  });
});
