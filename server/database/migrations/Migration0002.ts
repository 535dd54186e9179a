import { Migration } from '@mikro-orm/migrations';

/** Characters count their revisions, so that a shipment can name the one it was made of. */
export class Migration0002 extends Migration {
  override up(): void {
    this.addSql(
      `alter table "character" add column "revision" int not null default 1, add column "shipped_revision" int null;`,
    );
    // What was shipped before, and not edited since.
    this.addSql(`update "character" set "shipped_revision" = 1 where "shipped_at" >= "edited_at";`);
  }

  override down(): void {
    this.addSql(`alter table "character" drop column "revision", drop column "shipped_revision";`);
  }
}
