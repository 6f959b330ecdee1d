import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Lists of a sheet's values that are written anew with each version of their spreadsheet. */
export class SideLists1767100000000 implements MigrationInterface {
  name = 'SideLists1767100000000'

  async up(runner: QueryRunner): Promise<void> {
    // Versions go when they are thinned out: what was written of one stays known by its number.
    await runner.query(`
      create table side_list (
        id uuid primary key,
        source_id uuid not null references entry on delete cascade,
        list_id uuid not null unique references entry on delete cascade,
        sheet text not null,
        asked_by uuid not null references person,
        seen_version_id uuid,
        written_number integer,
        written_as uuid,
        fault jsonb,
        check (source_id <> list_id)
      );
      create index on side_list (source_id)
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table side_list')
  }
}
