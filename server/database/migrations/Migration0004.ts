import { Migration } from '@mikro-orm/migrations';

/**
 * Versions of a character to return to; strokes kept beside arrays instead of in new ones; blobs that nothing uses any
 * more are marked, to be deleted later.
 */
export class Migration0004 extends Migration {
  override up(): void {
    this.addSql(`alter table "blob" add column "unused_since" timestamptz null;`);
    this.addSql(`alter table "authored_record" add column "array_delta" bytea null;`);
    this.addSql(
      `alter table "character" add column "shipped_hash" varchar(64) null, add column "recent_windows" jsonb not null default '[]';`,
    );
    this.addSql(
      `create table "character_version" ("id" uuid not null, "character_id" uuid not null, "name" varchar(200) null, "kind" varchar(20) not null, "revision" int not null, "records" jsonb not null, "windows" jsonb not null, "created_at" timestamptz not null, constraint "character_version_pkey" primary key ("id"));`,
    );
    this.addSql(
      `create index "character_version_character_id_index" on "character_version" ("character_id");`,
    );
    this.addSql(
      `alter table "character_version" add constraint "character_version_character_id_foreign" foreign key ("character_id") references "character" ("id") on update cascade on delete cascade;`,
    );
  }

  override down(): void {
    this.addSql(`drop table "character_version";`);
    this.addSql(`alter table "character" drop column "shipped_hash", drop column "recent_windows";`);
    this.addSql(`alter table "authored_record" drop column "array_delta";`);
    this.addSql(`alter table "blob" drop column "unused_since";`);
  }
}
