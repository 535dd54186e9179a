import { Migration } from '@mikro-orm/migrations';

/** What is planned of the characters of a project together. */
export class Migration0010 extends Migration {
  override up(): void {
    this.addSql(`alter table "project" add column "crowd" jsonb null;`);
  }

  override down(): void {
    this.addSql(`alter table "project" drop column "crowd";`);
  }
}
