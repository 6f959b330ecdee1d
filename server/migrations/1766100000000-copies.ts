import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Which version of each file is in which copy, and what the last check of a copy found. */
export class Copies1766100000000 implements MigrationInterface {
  name = 'Copies1766100000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table share_copy (
        id uuid primary key,
        share_id uuid not null references share,
        folder text not null,
        copied_at timestamptz,
        versions integer not null default 0 check (versions >= 0),
        bytes bigint not null default 0 check (bytes >= 0),
        checked_at timestamptz,
        faults integer check (faults >= 0),
        failed_since timestamptz,
        failure text,
        check ((failed_since is null) = (failure is null)),
        unique (share_id, folder)
      );
      create table copied_file (
        copy_id uuid not null references share_copy on delete cascade,
        file_id uuid not null references entry on delete cascade,
        number integer not null check (number > 0),
        primary key (copy_id, file_id)
      );
      create index copied_file_by_file on copied_file (file_id)
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table copied_file; drop table share_copy')
  }
}
