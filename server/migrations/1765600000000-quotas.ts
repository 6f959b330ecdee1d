import type { MigrationInterface, QueryRunner } from 'typeorm'
import { quotas } from '../sql/quotas'

/** What shares and people take on shared storage is known, so that it can be bounded. */
export class Quotas1765600000000 implements MigrationInterface {
  name = 'Quotas1765600000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(quotas)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop trigger version_is_counted on version;
      drop trigger moved_file_is_counted on entry;
      drop function count_version, count_moved_file;
      drop table storage_use, storage_change;
    `)
  }
}
