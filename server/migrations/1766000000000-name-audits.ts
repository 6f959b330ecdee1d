import type { MigrationInterface, QueryRunner } from 'typeorm'

/** The last audit of each share's names, so that it can be said when one is due. */
export class NameAudits1766000000000 implements MigrationInterface {
  name = 'NameAudits1766000000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table name_audit (
        share_id uuid primary key references share,
        at timestamptz not null default clock_timestamp(),
        person_id uuid not null references person,
        names integer not null check (names >= 0),
        astray integer not null check (astray between 0 and names)
      )
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table name_audit')
  }
}
