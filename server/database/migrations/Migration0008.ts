import { Migration } from '@mikro-orm/migrations';

/** What work costs on a machine; and tasks that are of no character. */
export class Migration0008 extends Migration {
  override up(): void {
    this.addSql(
      `create table "measured_costs" ("key" varchar(80) not null, "profile" jsonb not null, "measured_at" timestamptz not null, primary key ("key"));`,
    );
    this.addSql(`alter table "task" alter column "character_id" drop not null;`);
    this.addSql(`alter table "task" alter column "snapshot_hash" drop not null;`);
  }

  override down(): void {
    this.addSql(`delete from "task" where "character_id" is null;`);
    this.addSql(`alter table "task" alter column "snapshot_hash" set not null;`);
    this.addSql(`alter table "task" alter column "character_id" set not null;`);
    this.addSql(`drop table "measured_costs";`);
  }
}
