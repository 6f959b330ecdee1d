import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Shares, folders and files that somebody wants to hear of, and since when they have not looked. */
export class Watching1767400000000 implements MigrationInterface {
  name = 'Watching1767400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      create table watch (
        id uuid primary key,
        person_id uuid not null references person on delete cascade,
        share_id uuid not null references share on delete cascade,
        entry_id uuid references entry on delete cascade,
        seen_at timestamptz not null default now()
      );
      create unique index on watch (person_id, coalesce(entry_id, share_id))
    `)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('drop table watch')
  }
}
