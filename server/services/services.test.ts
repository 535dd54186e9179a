import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import { FABRIC_DEFAULTS } from '../../core/cloth/index.ts';
import {
  type AuthoredRecord,
  createDocument,
  createGarment,
  GARMENT_DEFAULTS,
  type GarmentRecord,
  insertGarment,
  type RecordId,
  recordField,
  SCENE_DEFAULTS,
} from '../../core/document/index.ts';
import { PACKED_CHARACTER_VERSION, unpackCharacter } from '../../core/rig/index.ts';
import { IntakeError, readCharacter } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { migrate } from '../database/orm.ts';
import { AuthoredRow, Blob, Character } from '../entities/entities.ts';
import { IntakePool } from '../intake/intake-pool.ts';
import { createTestDatabase } from '../test-database.ts';
import { AuthoredService, toChanges } from './authored-service.ts';
import { BlobService, hashBytes } from './blob-service.ts';
import { CharacterService } from './character-service.ts';
import { ProjectService } from './project-service.ts';
import type { ArrayEdit } from './record-change.ts';
import type { ServiceError } from './service-error.ts';

const strip = () => [{ name: 'Strip.glb', bytes: createStrip().toGlb() }];
const bodySet = (name: string): AuthoredRecord => ({
  type: 'bodySet',
  id: 'set' as RecordId,
  name,
  follows: 'skin',
});
const createChannel = (pointCount: number): AuthoredRecord => ({
  type: 'channel',
  id: 'channel' as RecordId,
  garmentId: 'g' as RecordId,
  kind: 'maxDistance',
  isInUse: true,
  name: 'first',
  pointCount,
});
const channel = createChannel(6);
/** A garment with its fabric and body set, for maps to belong to. */
const worn: AuthoredRecord[] = [
  { type: 'fabric', id: 'f' as RecordId, name: 'Cloth', settings: { ...FABRIC_DEFAULTS } },
  { type: 'bodySet', id: 'b' as RecordId, name: 'Main', follows: 'skin' },
  {
    type: 'garment',
    id: 'g' as RecordId,
    name: 'Strip',
    order: 0,
    sectionIndex: 0,
    sectionName: 'Strip',
    fabricId: 'f' as RecordId,
    bodySetId: 'b' as RecordId,
    ...GARMENT_DEFAULTS,
  },
];
const floats = (...values: number[]): ArrayEdit => ({ indices: null, values: Float32Array.from(values) });

describe('services on a real database', () => {
  let orm: MikroORM;
  let pool: IntakePool;
  let projectId: string;

  const fork = () => orm.em.fork();
  const bringIn = () => new CharacterService(fork(), pool).bringIn(projectId, strip());
  const wear = (id: string) =>
    write(id, ...worn.map((record) => ({ id: record.id, baseVersion: 0, record })));
  const write = (id: string, ...changes: Parameters<AuthoredService['write']>[1]) =>
    new AuthoredService(fork()).write(id, changes);

  before(async () => {
    ({ orm } = await createTestDatabase());
    pool = new IntakePool();
    projectId = (await new ProjectService(fork()).create('Test')).id;
  });

  after(async () => {
    await pool.close();
    await orm.close();
  });

  it('migrations may run twice at once', async () => {
    await Promise.all([migrate(orm), migrate(orm)]);
  });

  it('the schema is what the entities say', async () => {
    expect((await orm.schema.getUpdateSchemaSQL({ safe: true })).trim()).equal('');
  });

  describe('blobs', () => {
    it('are stored once by their hash and come back the same', async () => {
      const bytes = Uint8Array.from({ length: 100_000 }, (_, i) => (i * i) & 255);
      const blobs = new BlobService(fork());
      expect(await blobs.put(bytes)).equal(await blobs.put(bytes.slice()));
      expect(await fork().count(Blob, { hash: hashBytes(bytes) })).equal(1);
      expect(Buffer.compare(Buffer.from((await blobs.get(hashBytes(bytes)))!), Buffer.from(bytes))).equal(0);
    });

    it('of unknown or malformed hashes are null', async () => {
      expect(await new BlobService(fork()).get('0'.repeat(64))).equal(null);
      expect(await new BlobService(fork()).get("' or 1=1")).equal(null);
    });
  });

  describe('characters', () => {
    it('are brought in with their source, packed form, report and picture', async () => {
      const made = await bringIn();
      const characters = new CharacterService(fork(), pool);
      const packed = unpackCharacter(new Uint8Array(await characters.readPacked(made.id)).buffer);
      expect(packed.sections).deep.equal((await readCharacter(strip())).character.sections);
      expect(made.report.counts.joints).equal(2);
      const picture = await new BlobService(fork()).get(made.thumbnailHash);
      expect([...picture!.subarray(1, 4)]).deep.equal([0x50, 0x4e, 0x47]);
    });

    it('share the bytes of the same file', async () => {
      const [p, q] = [await bringIn(), await bringIn()];
      expect(p.files).deep.equal(q.files);
      expect(await fork().count(Blob, { hash: p.files[0]!.hash })).equal(1);
    });

    it('that cannot be read leave nothing behind', async () => {
      const before = [await fork().count(Blob), await fork().count(Character)];
      const damaged = [{ name: 'bad.glb', bytes: strip()[0]!.bytes.slice(0, 400) }];
      const error: unknown = await new CharacterService(fork(), pool)
        .bringIn(projectId, damaged)
        .catch((reason: unknown) => reason);
      expect(error).instanceOf(IntakeError);
      expect((error as IntakeError).code).equal('truncated');
      expect([await fork().count(Blob), await fork().count(Character)]).deep.equal(before);
    });

    it('are unpacked anew when this build packs another way', async () => {
      const made = await bringIn();
      await fork().nativeUpdate(Character, { id: made.id }, { packedVersion: 0, packedHash: '0'.repeat(64) });
      expect((await new CharacterService(fork(), pool).readPacked(made.id)).length).above(1000);
      expect((await fork().findOneOrFail(Character, { id: made.id })).packedVersion).equal(
        PACKED_CHARACTER_VERSION,
      );
    });

    it('that an earlier build kept in the units of the file are brought into metres with their bodies', async () => {
      const made = await bringIn();
      const shape = { kind: 'sphere', a: [0, 1, 0], b: [0, 0, 0], radiusA: 0.5, radiusB: 0.5 } as const;
      const body = {
        type: 'body',
        id: 'b',
        bodySetId: 'set',
        name: 'b',
        jointName: 'upper',
        shape,
        margin: 0,
        group: 1,
      };
      await write(made.id, { id: 'set', baseVersion: 0, record: bodySet('set') });
      await write(made.id, { id: 'b', baseVersion: 0, record: body as never });
      await fork().nativeUpdate(Character, { id: made.id }, { packedVersion: 1 });
      const readBody = async () =>
        (await new AuthoredService(fork()).readDocument(made.id)).records.get('b' as RecordId);
      // The strip hangs below an armature of twice the size.
      for (let time = 0; time < 2; time++) {
        await new CharacterService(fork(), pool).readPacked(made.id);
        expect(await readBody()).deep.include({
          shape: { kind: 'sphere', a: [0, 2, 0], b: [0, 0, 0], radiusA: 1, radiusB: 1 },
        });
      }
    });

    it('are renamed, copied with all that was authored, deleted and brought back', async () => {
      const made = await bringIn();
      await wear(made.id);
      await write(
        made.id,
        { id: 'set', baseVersion: 0, record: bodySet('Main') },
        { id: 'channel', baseVersion: 0, record: createChannel(3), array: floats(1, 2, 3) },
      );
      await write(made.id, { id: 'set', baseVersion: 1, record: bodySet('Legs') });
      const characters = new CharacterService(fork(), pool);
      await characters.rename(made.id, '  New   name ');
      const copy = await characters.duplicate(made.id);
      expect(copy.name).equal('New name copy');
      const document = await new AuthoredService(fork()).readDocument(copy.id);
      expect(document.records.get('set' as RecordId)).deep.equal(bodySet('Legs'));
      expect([...document.arrays.get('channel' as RecordId)!]).deep.equal([1, 2, 3]);
      await characters.setDeleted(made.id, true);
      const gone: unknown = await new CharacterService(fork(), pool)
        .find(made.id)
        .catch((error: unknown) => error);
      expect((gone as ServiceError).status).equal(404);
      await new CharacterService(fork(), pool).setDeleted(made.id, false);
      expect((await new CharacterService(fork(), pool).find(made.id)).name).equal('New name');
    });

    it('refuse empty names and unknown ids', async () => {
      const statusOf = (action: Promise<unknown>): Promise<number> =>
        action.then(
          () => 0,
          (error: ServiceError) => error.status,
        );
      expect(await statusOf(new ProjectService(fork()).create('   '))).equal(400);
      expect(await statusOf(new ProjectService(fork()).find('00000000-0000-4000-8000-000000000000'))).equal(
        404,
      );
      expect(await statusOf(new CharacterService(fork(), pool).find('not-an-id'))).equal(404);
    });

    it('ship a checked file that reads back', async () => {
      const made = await bringIn();
      const shipment = await new CharacterService(fork(), pool).ship(made.id);
      expect(shipment.validation.errors).equal(0);
      const bytes = await new BlobService(fork()).get(shipment.hash);
      expect((await readCharacter([{ name: shipment.name, bytes: bytes! }])).character.sections).length(1);
      const [summary] = (await new CharacterService(fork(), pool).summarise([projectId])).filter(
        ({ id }) => id === made.id,
      );
      expect(summary!.shippedAt).not.equal(null);
      expect(summary!.isShippedAsIs).equal(true);
    });
  });

  describe('saving', () => {
    let id: string;
    beforeEach(async () => {
      id = (await bringIn()).id;
    });

    it('keeps body meshes, counts them among the bodies, and refuses those of no set', async () => {
      await write(id, { id: 'set', baseVersion: 0, record: bodySet('a') });
      const mesh = {
        type: 'bodyMesh',
        id: 'mesh',
        bodySetId: 'set',
        name: 'Skin',
        stepId: null,
        sectionIndex: 0,
        sectionName: 'Strip',
        margin: 0.01,
        group: 2,
      };
      await write(id, { id: 'mesh', baseVersion: 0, record: mesh as never });
      const [summary] = (await new CharacterService(fork(), pool).summarise([projectId])).filter(
        (one) => one.id === id,
      );
      expect(summary!.bodies).equal(1);
      const error: unknown = await write(id, {
        id: 'mesh',
        baseVersion: 1,
        record: { ...mesh, bodySetId: 'none' } as never,
      }).catch((reason: unknown) => reason);
      expect((error as ServiceError).status).equal(422);
    });

    it('counts versions, and reads back what was written', async () => {
      const first = await write(id, { id: 'set', baseVersion: 0, record: bodySet('a') });
      expect(first).deep.equal({ versions: { set: 1 }, revision: 2 });
      const second = await write(id, { id: 'set', baseVersion: 1, record: bodySet('b') });
      expect(second).deep.equal({ versions: { set: 2 }, revision: 3 });
      const [stored] = await new AuthoredService(fork()).list(id);
      expect(stored).deep.equal({ record: bodySet('b'), version: 2, arrayHash: null });
    });

    it('on an older version is told what is newer, and nothing of it is written', async () => {
      await wear(id);
      const channel = createChannel(1);
      await write(
        id,
        { id: 'set', baseVersion: 0, record: bodySet('first') },
        { id: 'channel', baseVersion: 0, record: channel, array: floats(1) },
      );
      await write(id, { id: 'channel', baseVersion: 1, record: channel, array: floats(2) });
      const error = (await write(
        id,
        { id: 'set', baseVersion: 1, record: bodySet('mine') },
        { id: 'channel', baseVersion: 1, record: channel, array: floats(3) },
      ).catch((reason: unknown) => reason)) as ServiceError;
      expect(error.status).equal(409);
      const { conflicts } = error.details as { conflicts: { id: string; version: number; array: string }[] };
      expect(conflicts.map((conflict) => [conflict.id, conflict.version])).deep.equal([['channel', 2]]);
      expect(new Float32Array(new Uint8Array(Buffer.from(conflicts[0]!.array, 'base64')).buffer)[0]).equal(2);
      const document = await new AuthoredService(fork()).readDocument(id);
      expect(document.records.get('set' as RecordId)).deep.equal(bodySet('first'));
    });

    it('twice, because the first answer was lost, is no conflict', async () => {
      await wear(id);
      const change = { id: 'channel', baseVersion: 0, record: createChannel(2), array: floats(4, 5) };
      await write(id, change);
      expect((await write(id, change)).versions).deep.equal({ channel: 2 });
    });

    it('of two windows at once lets one through', async () => {
      await write(id, { id: 'set', baseVersion: 0, record: bodySet('base') });
      const results = await Promise.allSettled(
        ['p', 'q', 'r'].map((name) => write(id, { id: 'set', baseVersion: 1, record: bodySet(name) })),
      );
      expect(results.filter((result) => result.status === 'fulfilled')).length(1);
      expect((await new AuthoredService(fork()).list(id))[0]!.version).equal(2);
    });

    it('deletes, and a write to what was deleted is noticed', async () => {
      await write(id, { id: 'set', baseVersion: 0, record: bodySet('a') });
      await write(id, { id: 'set', baseVersion: 1, record: null });
      expect(await new AuthoredService(fork()).list(id)).deep.equal([]);
      const late = (await write(id, { id: 'set', baseVersion: 1, record: bodySet('b') }).catch(
        (reason: unknown) => reason,
      )) as ServiceError;
      expect(late.status).equal(409);
      const again = await write(id, { id: 'set', baseVersion: 2, record: bodySet('again') });
      expect(again.versions).deep.equal({ set: 3 });
    });

    describe('of what nothing can be made of', () => {
      const sphere = { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1 } as const;
      const body = (jointName: string): AuthoredRecord => ({
        type: 'body',
        id: 'body' as RecordId,
        bodySetId: 'b' as RecordId,
        name: 'ball',
        jointName,
        shape: { ...sphere, a: [0, 0, 0], b: [0, 0, 0] },
        margin: 0,
        group: 1,
      });
      const change = (record: AuthoredRecord, array?: ArrayEdit) => ({
        id: record.id as string,
        baseVersion: 0,
        record,
        ...(array && { array }),
      });
      const refusals: [string, Parameters<AuthoredService['write']>[1], string][] = [
        [
          'values beyond those that are stored',
          [{ ...change(channel), array: { indices: Uint32Array.of(0, 7), values: Float32Array.of(1, 1) } }],
          'it changes value 0, and 0 are stored',
        ],
        ['a map of another length', [change(channel, floats(1, 2))], 'of 6 vertices and has 2 values'],
        ['a map without values', [change(channel)], 'of 6 vertices and has 0 values'],
        ['a map with a hole', [change(createChannel(2), floats(1, Number.NaN))], 'number 1 is not a number'],
        ['an endless map', [change(createChannel(1), floats(Number.POSITIVE_INFINITY))], 'not a number'],
        ['a map below its range', [change(createChannel(1), floats(-1))], 'is not within 0 to'],
        ['numbers beside a body set', [change(bodySet('x'), floats(1))], 'not a bodySet'],
        ['another id than its own', [{ id: 'x', baseVersion: 0, record: bodySet('a') }], 'its id is "set"'],
        ['one record twice', [change(bodySet('a')), change(bodySet('b'))], 'in the request twice'],
        ['a joint that is not there', [change(body('tail'))], 'sits on joint "tail"'],
        [
          'a garment of no fabric',
          [change({ ...(worn[2] as GarmentRecord), id: 'h' as RecordId, fabricId: 'b' as RecordId })],
          'its fabricId "b" is no fabric',
        ],
        [
          'a map of a garment that goes with the same save',
          [{ id: 'g', baseVersion: 1, record: null }, change(createChannel(1), floats(1))],
          'its garmentId "g" is no garment',
        ],
      ];
      for (const [what, changes, message] of refusals) {
        it(`is refused in words, and nothing is stored: ${what}`, async () => {
          await wear(id);
          const before = await new AuthoredService(fork()).list(id);
          const valid = {
            id: 'valid',
            baseVersion: 0,
            record: { ...bodySet('ok'), id: 'valid' as RecordId },
          };
          const error = (await write(id, valid, ...changes).catch(
            (reason: unknown) => reason,
          )) as ServiceError;
          expect([error.status, error.name]).deep.equal([422, 'ServiceError']);
          expect(error.message).contain(message).and.contain('Nothing was stored');
          expect(await new AuthoredService(fork()).list(id)).deep.equal(before);
        });
      }

      it('is taken when it is right: limits to the last digit, a body on a joint, all in one save', async () => {
        const limits = {
          ...createChannel(2),
          id: 'limits' as RecordId,
          kind: 'inwardLimit',
        } as AuthoredRecord;
        const all = [...worn, body('upper')].map((record) => change(record));
        await write(id, ...all, change(limits, floats(0, 0.3)), change(channel, floats(0, 1, 2, 3, 4, 5)));
        expect(await new AuthoredService(fork()).list(id)).length(6);
      });

      it('is a character that was deleted', async () => {
        await new CharacterService(fork(), pool).setDeleted(id, true);
        const error = (await write(id, change(bodySet('a'))).catch(
          (reason: unknown) => reason,
        )) as ServiceError;
        expect(error.status).equal(404);
        expect(error.message).contain('deleted in another window');
      });
    });

    it('that breaks in the middle leaves no half', async () => {
      const rows = await fork().count(AuthoredRow, { character: id });
      const tooLong = { ...bodySet('x'), id: 'y'.repeat(200) as RecordId };
      const error: unknown = await write(
        id,
        { id: 'set', baseVersion: 0, record: bodySet('a') },
        { id: tooLong.id, baseVersion: 0, record: tooLong },
      ).catch((reason: unknown) => reason);
      expect(error).instanceOf(Error);
      expect(await fork().count(AuthoredRow, { character: id })).equal(rows);
    });
  });

  describe('files of a character', () => {
    const nod = () => {
      const builder = createStrip();
      builder.json.animations![0]!.name = 'nod';
      return [{ name: 'nod.glb', bytes: builder.toGlb() }];
    };
    const clipsOf = async (id: string): Promise<string[]> => {
      const packed = await new CharacterService(fork(), pool).readPacked(id);
      return unpackCharacter(new Uint8Array(packed).buffer).clips.map(({ name }) => name);
    };

    it('take clips of other files, and give them up again', async () => {
      const { id } = await bringIn();
      const { report } = await new CharacterService(fork(), pool).addClips(id, nod());
      expect(report.clips.map(({ name }) => name)).deep.equal(['bend', 'nod']);
      expect(await clipsOf(id)).deep.equal(['bend', 'nod']);
      // The same file once more takes the place of the first.
      await new CharacterService(fork(), pool).addClips(id, nod());
      expect(await clipsOf(id)).deep.equal(['bend', 'nod']);
      await new CharacterService(fork(), pool).removeClips(id, 'nod.glb');
      expect(await clipsOf(id)).deep.equal(['bend']);
      const refused: unknown = await new CharacterService(fork(), pool)
        .addClips(id, [{ name: 'x.obj', bytes: new Uint8Array(3) }])
        .catch((reason: unknown) => reason);
      expect(refused).instanceOf(IntakeError);
      expect(await clipsOf(id)).deep.equal(['bend']);
    });

    it('of another version take everything authored over, once it is accepted', async () => {
      const { id } = await bringIn();
      await new CharacterService(fork(), pool).addClips(id, nod());
      const packed = await new CharacterService(fork(), pool).readPacked(id);
      const character = unpackCharacter(new Uint8Array(packed).buffer);
      const document = createDocument();
      let ids = 0;
      const made = createGarment(character, document, 0, () => `id-${++ids}` as RecordId);
      insertGarment(document, made, Float32Array.of(0, 0, 1, 1, 2, 2));
      document.records.delete(SCENE_DEFAULTS.id);
      await write(id, ...toChanges(document));
      const renamed = createStrip();
      renamed.json.meshes![0]!.name = 'Ribbon';
      const version = [{ name: 'Strip v2.glb', bytes: renamed.toGlb() }];
      const characters = () => new CharacterService(fork(), pool);

      const review = await characters().reviewSource(id, version, {});
      expect(review.sections.map(({ name, state }) => [name, state])).deep.equal([
        ['Strip', 'missing'],
        ['Ribbon', 'new'],
      ]);
      expect(review.unbound).deep.equal(['Strip']);
      expect((await characters().find(id)).files.map(({ name }) => name)).deep.equal([
        'Strip.glb',
        'nod.glb',
      ]);

      const taken = await characters().replaceSource(id, version, { Strip: 'Ribbon' });
      expect(taken.unbound).deep.equal([]);
      expect((await characters().find(id)).files.map(({ name }) => name)).deep.equal([
        'Strip v2.glb',
        'nod.glb',
      ]);
      expect(await clipsOf(id)).deep.equal(['bend', 'nod']);
      const after = await new AuthoredService(fork()).readDocument(id);
      const garment = after.records.get(made.garment.id);
      expect(garment).include({ type: 'garment', name: 'Strip', sectionName: 'Ribbon' });
      expect([...after.arrays.get(made.channel.id)!]).deep.equal([0, 0, 1, 1, 2, 2]);
    });
  });

  describe('what the page may write', () => {
    const accepts = (record: unknown): Promise<boolean> =>
      recordField.validate(record, { strict: true }).then(
        () => true,
        () => false,
      );

    it('is every record within its ranges, and nothing else', async () => {
      expect(await accepts(bodySet('ok'))).equal(true);
      expect(await accepts(null)).equal(true);
      expect(await accepts(channel)).equal(true);
      expect(await accepts({ ...SCENE_DEFAULTS })).equal(true);
      expect(await accepts({ ...SCENE_DEFAULTS, windSpeed: 1e9 })).equal(false);
      expect(await accepts({ ...SCENE_DEFAULTS, windSpeed: Number.NaN })).equal(false);
      expect(await accepts({ ...bodySet('ok'), more: 1 })).equal(false);
      expect(await accepts({ ...bodySet('ok'), name: '' })).equal(false);
      expect(await accepts({ type: 'unknown', id: 'x' })).equal(false);
      for (const type of ['__proto__', 'constructor', 'toString', 7, null])
        expect(await accepts({ type, id: 'x' }), String(type)).equal(false);
      const step = { type: 'step', id: 'x', sectionIndex: 0, sectionName: '', order: 0 };
      expect(await accepts({ ...step, act: { kind: '__proto__' } })).equal(false);
      expect(await accepts({ ...step, act: { kind: 'weld' } })).equal(true);
      const shape = { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1 };
      const body = {
        type: 'body',
        id: 'b',
        bodySetId: 's',
        name: 'b',
        jointName: 'j',
        shape,
        margin: 0,
        group: 1,
      };
      expect(await accepts(body)).equal(true);
      expect(await accepts({ ...body, shape: { ...shape, radiusA: -1 } })).equal(false);
      expect(await accepts({ ...body, shape: { ...shape, a: [0, 0] } })).equal(false);
    });
  });
});
