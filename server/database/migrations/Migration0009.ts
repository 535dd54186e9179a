import { Migration } from '@mikro-orm/migrations';

/** Machines that games run on, and which of them costs of a project are told for. */
export class Migration0009 extends Migration {
  override up(): void {
    this.addSql(
      `create table "target_profile" ("id" varchar(80) not null, "name" varchar(200) not null, "settings" jsonb not null, "costs" jsonb null, "created_at" timestamptz not null, primary key ("id"));`,
    );
    this.addSql(`alter table "project" add column "target_id" varchar(80) null;`);
  }

  override down(): void {
    this.addSql(`alter table "project" drop column "target_id";`);
    this.addSql(`drop table "target_profile";`);
  }
}
