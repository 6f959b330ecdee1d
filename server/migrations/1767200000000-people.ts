import type { MigrationInterface, QueryRunner } from 'typeorm'
import { archivedShares } from '../sql/rights'

/** People who were added and set their password with a code; shares that say what they are for, and may be archived. */
export class People1767200000000 implements MigrationInterface {
  name = 'People1767200000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table person alter column password_hash drop not null, add column signed_in_at timestamptz;
      update person p set signed_in_at = (select max(s.used_at) from session s where s.person_id = p.id);
      create table person_code (
        person_id uuid primary key references person on delete cascade,
        code_hash bytea not null,
        until timestamptz not null,
        given_by uuid references person,
        given_at timestamptz not null default now()
      );
      create table second_factor (
        person_id uuid primary key references person on delete cascade,
        secret bytea not null,
        confirmed_at timestamptz,
        used_step bigint
      );
      create table recovery_code (
        person_id uuid not null references person on delete cascade,
        code_hash bytea not null,
        primary key (person_id, code_hash)
      );
      alter table share add column description text not null default '', add column archived_at timestamptz;
    `)
    await runner.query(archivedShares)
  }

  async down(): Promise<void> {
    throw new Error('Accounts that have no password yet cannot be gone back from.')
  }
}
