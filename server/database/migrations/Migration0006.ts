import { Migration } from '@mikro-orm/migrations';

/** Long work on the server, its parts, and the trials that it makes. */
export class Migration0006 extends Migration {
  override up(): void {
    this.addSql(`create table "task" (
      "id" uuid primary key, "character_id" uuid not null,
      "kind" varchar(20) not null, "title" varchar(400) not null, "is_automatic" boolean not null,
      "request" jsonb not null, "revision" int not null, "motion_hash" varchar(64) not null,
      "snapshot_hash" varchar(64) not null, "hashes" jsonb not null,
      "state" varchar(20) not null, "error" text null, "result" jsonb null, "parts" int not null, "parts_done" int not null default 0,
      "created_at" timestamptz not null, "started_at" timestamptz null, "finished_at" timestamptz null,
      constraint "task_character_id_foreign" foreign key ("character_id") references "character" ("id")
        on update cascade on delete cascade);`);
    this.addSql(`create index "task_character" on "task" ("character_id", "created_at");`);
    this.addSql(`create table "task_part" (
      "task_id" uuid not null references "task" ("id") on delete cascade, "index" int not null,
      "name" varchar(400) not null, "state" varchar(20) not null, "worker" int null, "queued_at" timestamptz not null,
      "done" int not null default 0, "total" int not null,
      "request" jsonb null, "result" jsonb null, "measured" bytea null, "machine" bytea null, primary key ("task_id", "index"));`);
    this.addSql(`create index "task_part_waiting" on "task_part" ("queued_at") where "state" = 'queued';`);
    this.addSql(`create index "task_part_running" on "task_part" ("worker") where "state" = 'running';`);
    this.addSql(`create table "trial" (
      "id" uuid primary key, "character_id" uuid not null,
      "title" varchar(400) not null, "is_automatic" boolean not null, "revision" int not null,
      "motion_hash" varchar(64) not null, "snapshot_hash" varchar(64) not null, "hashes" jsonb not null,
      "cases" jsonb not null, "case_count" int not null, "broken_count" int not null,
      "measured" bytea not null, "machine" bytea not null, "seconds" real not null, "created_at" timestamptz not null,
      constraint "trial_character_id_foreign" foreign key ("character_id") references "character" ("id")
        on update cascade on delete cascade);`);
    this.addSql(`create index "trial_character" on "trial" ("character_id", "created_at");`);
  }

  override down(): void {
    this.addSql(`drop table "trial";`);
    this.addSql(`drop table "task_part";`);
    this.addSql(`drop table "task";`);
  }
}
