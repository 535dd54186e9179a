import { Migration } from '@mikro-orm/migrations';

/**
 * Files that were brought in before vertices that lie together but for rounding were joined are read as they were: what is
 * painted on them counts by their points.
 */
export class Migration0005 extends Migration {
  override up(): void {
    this.addSql(
      `update "character" set "files" = (select coalesce(jsonb_agg("file" || '{"keepsSeams": true}'), '[]') from jsonb_array_elements("files") "file");`,
    );
  }

  override down(): void {
    this.addSql(
      `update "character" set "files" = (select coalesce(jsonb_agg("file" - 'keepsSeams'), '[]') from jsonb_array_elements("files") "file");`,
    );
  }
}
