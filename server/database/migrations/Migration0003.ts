import { Migration } from '@mikro-orm/migrations';

/** Authored records say in which form of documents they were written, so that each is raised from there. */
export class Migration0003 extends Migration {
  override up(): void {
    this.addSql(`alter table "authored_record" add column "document_version" int not null default 0;`);
  }

  override down(): void {
    this.addSql(`alter table "authored_record" drop column "document_version";`);
  }
}
