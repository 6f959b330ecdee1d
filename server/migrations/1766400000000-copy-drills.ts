import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Trials of bringing back what a place for copies holds. */
export class CopyDrills1766400000000 implements MigrationInterface {
  name = 'CopyDrills1766400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table copy_drill (
        id uuid primary key,
        site_id uuid not null references copy_site on delete cascade,
        at timestamptz not null,
        seconds integer not null,
        files integer not null,
        versions integer not null,
        differ integer not null,
        failure text
      );
      create index on copy_drill (site_id, at)
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table copy_drill')
  }
}
