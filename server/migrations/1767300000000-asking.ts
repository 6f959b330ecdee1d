import type { MigrationInterface, QueryRunner } from 'typeorm'

/** What is said when something is given, whether it was looked at, and what people ask for more. */
export class Asking1767300000000 implements MigrationInterface {
  name = 'Asking1767300000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table access_grant add column words text not null default '';
      create table grant_seen (
        person_id uuid not null references person on delete cascade,
        grant_id uuid not null references access_grant on delete cascade,
        at timestamptz not null default now(),
        primary key (person_id, grant_id)
      );
      create index on grant_seen (grant_id);
      -- Of a share, folder or file by its id; what is gone takes what was asked along.
      create table right_request (
        id uuid primary key,
        share_id uuid not null references share on delete cascade,
        entry_id uuid references entry on delete cascade,
        person_id uuid not null references person on delete cascade,
        role text not null check (role in ('edit', 'manage')),
        words text not null,
        at timestamptz not null default now(),
        answered_at timestamptz,
        answered_by uuid references person,
        given boolean,
        seen_at timestamptz,
        check ((answered_at is null) = (given is null))
      );
      -- Asked once until it is answered.
      create unique index on right_request (person_id, coalesce(entry_id, share_id)) where answered_at is null;
      create index on right_request (share_id) where answered_at is null;
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      drop table right_request;
      drop table grant_seen;
      alter table access_grant drop column words;
    `)
  }
}
