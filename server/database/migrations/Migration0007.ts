import { Migration } from '@mikro-orm/migrations';

/** Limits of trials that hold for all characters of a project. */
export class Migration0007 extends Migration {
  override up(): void {
    this.addSql(`alter table "project" add column "limits" jsonb not null default '{}';`);
  }

  override down(): void {
    this.addSql(`alter table "project" drop column "limits";`);
  }
}
