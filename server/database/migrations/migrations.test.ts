import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import { createEmptyDatabase } from '../../test-database.ts';
import { migrate } from '../orm.ts';

const ID = '00000000-0000-4000-8000-00000000000';

/** Databases as earlier versions left them, with what somebody made in them. */
describe('migrations of a database that is in use', () => {
  let orm: MikroORM;
  const run = (sql: string, values: unknown[] = []): Promise<Record<string, unknown>[]> =>
    orm.em.getConnection().execute(sql, values);

  beforeEach(async () => {
    ({ orm } = await createEmptyDatabase());
  });

  afterEach(() => orm.close());

  const insertCharacter = (n: number, editedAt: string, shippedAt: string | null): Promise<unknown> =>
    run(
      `insert into "character" ("id", "project_id", "name", "files", "packed_hash", "packed_version", "thumbnail_hash",
        "report", "created_at", "edited_at", "shipped_at") values (?, ?, ?, '[{"name": "coat.glb", "hash": "c", "bytes": 3}]', ?, 1, ?, '{}', now(), ?, ?)`,
      [`${ID}${n}`, `${ID}0`, `character ${n}`, 'a'.repeat(64), 'b'.repeat(64), editedAt, shippedAt],
    );

  it('from 0001 keep everything, and know what was shipped as it is', async () => {
    await orm.migrator.up({ to: 'Migration0001' });
    await run(`insert into "project" ("id", "name", "created_at") values (?, 'Old', now())`, [`${ID}0`]);
    await insertCharacter(1, '2026-01-01', null);
    await insertCharacter(2, '2026-01-01', '2026-01-02');
    await insertCharacter(3, '2026-01-03', '2026-01-02');
    await run(
      `insert into "authored_record" ("key", "character_id", "record_id", "type", "version", "data", "edited_at")
        values (?, ?, 'set', 'bodySet', 4, '{"type":"bodySet","id":"set","name":"kept"}', now())`,
      [`${ID}1/set`, `${ID}1`],
    );

    await migrate(orm);

    const characters = await run(
      'select "name", "revision", "shipped_revision" from "character" order by "name"',
    );
    expect(characters).deep.equal([
      { name: 'character 1', revision: 1, shipped_revision: null },
      { name: 'character 2', revision: 1, shipped_revision: 1 },
      // Edited since: shipped, but not as it is now.
      { name: 'character 3', revision: 1, shipped_revision: null },
    ]);
    const files = await run('select "files" from "character" order by "name" limit 1');
    expect(files).deep.equal([{ files: [{ name: 'coat.glb', hash: 'c', bytes: 3, keepsSeams: true }] }]);
    const records = await run('select "version", "data" from "authored_record"');
    expect(records).deep.equal([{ version: 4, data: { type: 'bodySet', id: 'set', name: 'kept' } }]);
    expect((await orm.schema.getUpdateSchemaSQL({ safe: true })).trim()).equal('');
  });

  it('go back one by one to nothing, and forward again', async () => {
    await migrate(orm);
    await orm.migrator.down({ to: 0 });
    const left = await run(
      `select "table_name" from information_schema.tables where "table_schema" = 'public' and "table_name" <> 'mikro_orm_migrations'`,
    );
    expect(left).deep.equal([]);
    await migrate(orm);
    expect((await orm.schema.getUpdateSchemaSQL({ safe: true })).trim()).equal('');
  });
});
