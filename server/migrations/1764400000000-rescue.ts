import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Drafts tell what is in no recovery point, can be asked for one, and who looked into whose work is kept. */
export class Rescue1764400000000 implements MigrationInterface {
  name = 'Rescue1764400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table draft
        add column head_version_id uuid references version,
        add column unsent jsonb,
        add column point_edit_at timestamptz,
        add column point_wanted_at timestamptz;
      create index on draft (file_id) where state = 'open';
      create table activity (
        id uuid primary key,
        at timestamptz not null default clock_timestamp(),
        person_id uuid not null references person,
        draft_id uuid not null references draft on delete cascade,
        what text not null check (what in ('looked inside', 'asked for a point', 'saved a safe copy'))
      );
      create index on activity (draft_id, at desc);
    `)
  }

  async down(): Promise<void> {
    throw new Error('The activity log is not thrown away.')
  }
}
