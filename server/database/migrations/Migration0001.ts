import { Migration } from '@mikro-orm/migrations';

export class Migration0001 extends Migration {
  override up(): void {
    this.addSql(
      `create table "blob" ("hash" varchar(64) not null, "size" int not null, "bytes" bytea not null, "created_at" timestamptz not null, constraint "blob_pkey" primary key ("hash"));`,
    );
    this.addSql(
      `create table "project" ("id" uuid not null, "name" varchar(200) not null, "version" int not null default 1, "created_at" timestamptz not null, "deleted_at" timestamptz null, constraint "project_pkey" primary key ("id"));`,
    );
    this.addSql(
      `create table "character" ("id" uuid not null, "project_id" uuid not null, "name" varchar(200) not null, "version" int not null default 1, "files" jsonb not null, "packed_hash" varchar(64) not null, "packed_version" int not null, "thumbnail_hash" varchar(64) not null, "report" jsonb not null, "created_at" timestamptz not null, "edited_at" timestamptz not null, "shipped_at" timestamptz null, "deleted_at" timestamptz null, constraint "character_pkey" primary key ("id"));`,
    );
    this.addSql(
      `create table "authored_record" ("key" varchar(120) not null, "character_id" uuid not null, "record_id" varchar(80) not null, "type" varchar(40) not null, "version" int not null, "data" jsonb null, "array_hash" varchar(64) null, "edited_at" timestamptz not null, constraint "authored_record_pkey" primary key ("key"));`,
    );
    this.addSql(`create index "authored_record_character_id_index" on "authored_record" ("character_id");`);
    this.addSql(
      `alter table "character" add constraint "character_project_id_foreign" foreign key ("project_id") references "project" ("id") on update cascade on delete cascade;`,
    );
    this.addSql(
      `alter table "authored_record" add constraint "authored_record_character_id_foreign" foreign key ("character_id") references "character" ("id") on update cascade on delete cascade;`,
    );
  }

  override down(): void {
    for (const table of ['authored_record', 'character', 'project', 'blob'])
      this.addSql(`drop table "${table}";`);
  }
}
